'use client';
import { useEffect, useState } from 'react';
import { D, type Dimension, type RawElement, formatQuantity, shownUnit } from '@vim-pivot/core/page';
import type { MassFound } from '@vim-pivot/core/more';
import { edit, useDocument } from '@/state/document';
import { massOf } from '@/workers/client';

const VOLUME = D.length.map((x) => 3 * x) as unknown as Dimension;
type Typed = 'mass' | 'centre' | 'inertia' | 'products';

/** What a body or a shape weighs, where its centre is and how it resists turning; of a body what is typed in and what comes from its shapes. */
export function MassCard({ family, element }: { family: 'bodies' | 'shapes'; element: RawElement }) {
  // asked once the check of an edit is done, so that the scene does not wait for it
  const checked = useDocument((s) => s.live);
  const [found, setFound] = useState<MassFound>();
  useEffect(() => {
    let wanted = true;
    const { model } = useDocument.getState();
    if (model) void massOf(model, family, element.name).then((m) => wanted && setFound(m), () => undefined);
    return () => {
      wanted = false;
    };
  }, [checked, family, element.name]);
  if (!found) return null;
  const body = family === 'bodies', typed = (f: Typed) => body && element[f] !== undefined && element[f] !== '';
  const rows: { field: Typed; label: string; dim: Dimension; values: readonly number[]; shapes: readonly number[] | undefined }[] = [
    { field: 'mass', label: 'Mass', dim: D.mass, values: [found.mass], shapes: found.shapes && [found.shapes.mass] },
    { field: 'centre', label: 'Centre x y z', dim: D.length, values: found.centre, shapes: found.shapes?.centre },
    { field: 'inertia', label: 'Inertia xx yy zz', dim: D.inertia, values: found.inertia, shapes: found.shapes?.inertia },
    { field: 'products', label: 'Inertia xy yz zx', dim: D.inertia, values: found.products, shapes: found.shapes?.products },
  ];
  // noise beside the size of the body reads as nothing
  const { mass } = found, moment = Math.max(...found.inertia.map(Math.abs)), least = { mass: 0, centre: mass > 0 ? 1e-12 * Math.sqrt(moment / mass) : 0, inertia: 1e-12 * moment, products: 1e-12 * moment };
  return (
    <section aria-label="Mass properties" className="border-t border-line px-3 py-2">
      <h3 className="font-semibold">Mass properties</h3>
      {body && <p className="text-xs text-ink-2">{rows.some((r) => typed(r.field)) ? 'What is typed in counts instead of what the shapes come to.' : 'From its shapes.'} In the body’s axes, inertia about the centre of mass.</p>}
      <dl className="mt-1 grid gap-1">
        {found.volume !== undefined && <Row label="Volume" dim={VOLUME} values={[found.volume]} />}
        {rows.map((r) => (
          <Row key={r.field} label={r.label} dim={r.dim} values={r.values.map((v) => (Math.abs(v) < least[r.field] ? 0 : v))} {...(typed(r.field) && r.shapes ? { shapes: r.shapes } : {})}>
            {body && (typed(r.field)
              ? <Small label={`${r.label}: back to the shapes`} onClick={() => setField(element.name, r.field, undefined)}>back to shapes</Small>
              : <Small label={`${r.label}: type in`} onClick={() => setField(element.name, r.field, r)}>type in</Small>)}
          </Row>
        ))}
        <Row label="Principal moments" dim={D.inertia} values={found.principal} />
      </dl>
    </section>
  );
}

function setField(body: string, field: Typed, from: { values: readonly number[]; dim: Dimension } | undefined): void {
  const unit = from && ({ mass: 'kg', centre: 'm', inertia: 'kg*m^2', products: 'kg*m^2' } as const)[field];
  edit(from ? `Type in ${field} of ${body}` : `${field} of ${body} from its shapes`, (m) => {
    const e = m.bodies.find((b) => b.name === body);
    if (!e) return;
    const texts = from?.values.map((v) => (v === 0 ? 0 : `${Number(v.toPrecision(9))} ${unit}`));
    e[field] = texts && (field === 'mass' ? texts[0]! : texts);
  });
}

/** Numbers under their name, in its unit; below them what the shapes come to, where something else counts. */
function Row({ label, dim, values, shapes, children }: { label: string; dim: Dimension; values: readonly number[]; shapes?: readonly number[]; children?: React.ReactNode }) {
  const unit = shownUnit(dim), line = (list: readonly number[], faint: boolean) => (
    <span className={`grid grid-cols-3 gap-2 text-right font-mono text-xs ${faint ? 'text-ink-2' : ''}`}>
      {list.map((v, i) => <span key={i}>{formatQuantity(v, dim, unit).replace(` ${unit}`, '')}</span>)}
      {faint && list.length === 1 && <span className="col-span-2 text-left">from its shapes</span>}
    </span>
  );
  return (
    <div>
      <dt className="flex min-h-6 items-center justify-between gap-2 text-ink-2"><span>{label}, <span className="font-mono text-xs">{unit}</span></span>{children}</dt>
      <dd>{line(values, false)}{shapes && line(shapes, true)}</dd>
    </div>
  );
}

const Small = ({ label, onClick, children }: { label: string; onClick: () => void; children: string }) => (
  <button aria-label={label} title={label} onClick={onClick} className="min-h-6 rounded border border-line px-1.5 text-xs text-ink-2 hover:border-ink-2 hover:text-ink">{children}</button>
);
