'use client';
import { useEffect, useState } from 'react';
import { D, type Dimension, type RawElement, formatQuantity, shownUnit } from '@vim-pivot/core/page';
import type { MassFound } from '@vim-pivot/core/on-demand';
import { edit, useDocument } from '@/state/document/document';
import { massOf } from '@/workers/client';

const VOLUME = D.length.map((x) => 3 * x) as unknown as Dimension;
/** Fields of a body that count instead of what its shapes come to. */
const TYPED = {
  mass: { label: 'Mass', dim: D.mass },
  centre: { label: 'Centre x y z', dim: D.length },
  inertia: { label: 'Ixx Iyy Izz', dim: D.inertia },
  products: { label: 'Ixy Iyz Izx', dim: D.inertia },
} as const;
type Typed = keyof typeof TYPED;
const FIELDS = Object.keys(TYPED) as Typed[];

/** What a body or a shape weighs, as the engine reckons it; asked once the check of an edit is done, so that the scene does not wait for it. */
export function useMass(family: string, element: RawElement): MassFound | undefined {
  const checked = useDocument((s) => s.live);
  const [found, setFound] = useState<{ of: string; mass: MassFound }>();
  useEffect(() => {
    let wanted = true;
    const { model } = useDocument.getState();
    if (model && (family === 'bodies' || family === 'shapes'))
      void massOf(model, family, element.name).then(
        (mass) => wanted && setFound(mass && { of: element.name, mass }),
        () => undefined,
      );
    return () => {
      wanted = false;
    };
  }, [checked, family, element.name]);
  return found?.of === element.name ? found.mass : undefined;
}

/** Noise beside the size of the body reads as nothing. */
function quiet(found: MassFound): Record<Typed, readonly number[]> {
  const { mass } = found,
    moment = Math.max(...found.inertia.map(Math.abs)),
    small = 1e-12 * moment,
    near = mass > 0 ? 1e-12 * Math.sqrt(moment / mass) : 0;
  const clean = (list: readonly number[], least: number) => list.map((v) => (Math.abs(v) < least ? 0 : v));
  return { mass: [mass], centre: clean(found.centre, near), inertia: clean(found.inertia, small), products: clean(found.products, small) };
}

/** What stands grey in the fields of a body that are left out: what its shapes come to. */
export function foundIn(found: MassFound | undefined, field: string): { values: readonly number[]; dim: Dimension } | undefined {
  return found && field in TYPED ? { values: quiet(found)[field as Typed], dim: TYPED[field as Typed].dim } : undefined;
}

/** Of a shape all of it; of a body what its own fields do not say. */
export function MassCard({ family, element, found }: { family: 'bodies' | 'shapes'; element: RawElement; found: MassFound | undefined }) {
  if (!found) return null;
  const body = family === 'bodies',
    typed = body ? FIELDS.filter((f) => element[f] !== undefined && element[f] !== '') : [],
    values = quiet(found);
  return (
    <section aria-label="Mass properties" className="border-t border-line px-3 py-2">
      <h3 className="font-semibold">Mass properties</h3>
      {body && (
        <p className="text-xs text-ink-2">
          {typed.length > 0
            ? 'What is typed in above counts instead of what the shapes come to.'
            : 'What stands grey above comes from its shapes; typed over, it counts instead.'}{' '}
          In the body’s axes, inertia about the centre of mass.
        </p>
      )}
      <dl className="mt-1 grid gap-1">
        {found.volume !== undefined && <Row label="Volume" dim={VOLUME} values={[found.volume]} />}
        {!body && FIELDS.map((f) => <Row key={f} label={TYPED[f].label} dim={TYPED[f].dim} values={values[f]} />)}
        {found.shapes &&
          typed.map((f) => (
            <Row key={f} label={`${TYPED[f].label} of its shapes`} dim={TYPED[f].dim} values={[found.shapes![f]].flat()}>
              <button
                aria-label={`${TYPED[f].label}: back to the shapes`}
                title={`${TYPED[f].label}: back to the shapes`}
                onClick={() => giveBack(element.name, f)}
                className="min-h-6 rounded border border-line px-1.5 text-xs text-ink-2 hover:border-ink-2 hover:text-ink"
              >
                back to shapes
              </button>
            </Row>
          ))}
        <Row label="Principal moments" dim={D.inertia} values={found.principal} />
      </dl>
    </section>
  );
}

function giveBack(body: string, field: Typed): void {
  edit(`${TYPED[field].label} of ${body} from its shapes`, (m) => {
    const e = m.bodies.find((b) => b.name === body);
    if (e) e[field] = undefined;
  });
}

/** Numbers under their name, in its unit. */
function Row({ label, dim, values, children }: { label: string; dim: Dimension; values: readonly number[]; children?: React.ReactNode }) {
  const unit = shownUnit(dim);
  return (
    <div>
      <dt className="flex min-h-6 items-center justify-between gap-2 text-ink-2">
        <span>
          {label}, <span className="font-mono text-xs">{unit}</span>
        </span>
        {children}
      </dt>
      <dd className="grid grid-cols-3 gap-2 text-right font-mono text-xs">
        {values.map((v, i) => (
          <span key={i}>{formatQuantity(v, dim, unit).replace(` ${unit}`, '')}</span>
        ))}
      </dd>
    </div>
  );
}
