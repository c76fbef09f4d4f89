/** What a model needs is loaded before it is looked at: geometry from the store, solid modelling. */
import { type Model, geometriesOf, geometryNamed, needs, showIn } from '@vim-pivot/core/engine';
import { geometriesFromStore } from '../geometries';
import type { Request } from '../protocol';

async function supply(m: Request): Promise<void> {
  const models = [...('model' in m ? [m.model] : []), ...('now' in m ? [m.now] : [])];
  const shown = models.at(-1);
  if (shown) showIn(shown.units);
  if ('packed' in m) models.push(m.packed.model);
  await suppliedTo(models);
}
/** The same for models that a request leads to: what a file holds is known once it is read. */
export async function suppliedTo(models: readonly Model[]): Promise<void> {
  const wanted = [...new Set(models.flatMap(geometriesOf))].filter((id) => !geometryNamed(id));
  if (wanted.length > 0) {
    const [{ provideGeometry }, found] = await Promise.all([import('@vim-pivot/core/meshes'), geometriesFromStore(wanted).catch(() => [])]);
    for (const g of found) provideGeometry(g.id, g.positions, g.indices);
  }
  const asked = new Set(models.flatMap((x) => [...needs(x)]));
  if (asked.has('surfaces')) (await import('@vim-pivot/core/surfaces')).bringGaps();
  if (asked.has('curves')) (await import('@vim-pivot/core/curves')).bringCurves();
  if (asked.has('contacts')) (await import('@vim-pivot/core/contacts')).bringContacts();
  if (asked.has('solids'))
    await (await import('@vim-pivot/core/solids')).loadSolids(() => new URL('manifold.wasm', self.location.href).href);
}

/** One after the other, so that nothing overtakes what it builds on. */
let last: Promise<void> = Promise.resolve();
export async function supplied(m: Request): Promise<void> {
  const mine = last.then(() => supply(m));
  last = mine.catch(() => undefined);
  await mine;
}
