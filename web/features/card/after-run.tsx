import { type RawElement, formatQuantity, readUnit } from '@vim-pivot/core/page';
import { useCurves } from '@/state/runs/curves';
import { useDocument } from '@/state/document/document';
import { useRuns } from '@/state/runs/runs';

/** Rounding noise of the solver is nothing to an engineer: below a tenth of a nanonewton (metre). */
const negligible = (v: number): number => (v < 1e-10 ? 0 : v);

/** What a drive needed or a joint carried in the current run: gauges made for the purpose, read from the stored states. */
export function AfterRun({ family, element }: { family: 'drives' | 'joints'; element: RawElement }) {
  const model = useDocument((s) => s.model);
  const current = useRuns((s) => s.current);
  const runs = useRuns((s) => s.runs);
  const rows =
    family === 'drives'
      ? [
          { label: 'Peak torque or force', kind: 'drive', drive: element.name, of: 'effort' },
          { label: 'Peak power', kind: 'drive', drive: element.name, of: 'power' },
          { label: 'Work put in', kind: 'drive', drive: element.name, of: 'work' },
        ]
      : [
          { label: 'Peak force', kind: 'reaction', joint: element.name, of: 'force' },
          { label: 'Peak moment', kind: 'reaction', joint: element.name, of: 'moment' },
        ];
  const gauges = rows.map(({ label, ...rest }) => ({ name: `card: ${label}`, ...rest }));
  const { run, curves } = useCurves(
    current,
    model && { ...model, gauges },
    gauges.map((g) => g.name),
  );
  const notUnique = useDocument((s) => s.mobility?.notUnique.includes(element.name));
  if (curves.length === 0) return null;
  return (
    <div className="border-t border-line">
      <h3 className="px-3 py-1.5 font-semibold">
        {family === 'drives' ? 'Needed' : 'Carried'} in run {runs.find((r) => r.id === run)?.number}
      </h3>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 px-3 pb-2">
        {curves.map((c, k) => {
          const total = rows[k]!.of === 'work';
          let at = total ? c.values.length - 1 : 0;
          c.values.forEach((v, i) => {
            if (!total && Math.abs(v) > Math.abs(c.values[at]!)) at = i;
          });
          const { unit } = c;
          return (
            <div key={c.gauge} className="contents">
              <dt className="text-ink-2">{rows[k]!.label}</dt>
              <dd className="font-mono text-xs">
                {formatQuantity(
                  negligible(total ? (c.values[at] ?? 0) : Math.abs(c.values[at] ?? 0)),
                  c.dim,
                  readUnit(unit) ? unit : undefined,
                )}{' '}
                <span className="text-ink-2">
                  {total ? 'up to' : 'at'} {c.time[at]?.toFixed(3)} s
                </span>
              </dd>
            </div>
          );
        })}
      </dl>
      {notUnique && family === 'joints' && (
        <p className="px-3 pb-2 text-xs text-ink-2">Its loop has redundant constraints: its load in those directions is not unique.</p>
      )}
    </div>
  );
}
