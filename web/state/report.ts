/** A page that holds all of a reading by itself: the machine, its charts, scores, limits and workings; for printing and for handing on. */
import { formatQuantity, readUnit } from '@vim-pivot/core/page';
import { useDocument } from './document';
import { useReadings } from './readings';
import { useRuns } from './runs';
import { useShown } from './shown';

const plain = (s: unknown): string => String(s ?? '').replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const table = (head: readonly string[], rows: readonly (readonly string[])[]): string => (rows.length === 0 ? '' : `<table><thead><tr>${head.map((h) => `<th>${plain(h)}</th>`).join('')}</tr></thead><tbody>${rows.map((r) => `<tr>${r.map((c) => `<td>${plain(c)}</td>`).join('')}</tr>`).join('')}</tbody></table>`);
const section = (title: string, body: string): string => (body === '' ? '' : `<section><h2>${plain(title)}</h2>${body}</section>`);

/** @returns undefined when there is no run */
export function report(): string | undefined {
  const { whole } = useDocument.getState(), { runs, current, time } = useRuns.getState(), run = runs.find((r) => r.id === current);
  if (!whole || !run) return undefined;
  const { scores, limits: fared, workings } = useReadings.getState();
  const show = (v: number | undefined, dim: Parameters<typeof formatQuantity>[1] | undefined, unit?: string) => (v === undefined || !dim ? '' : formatQuantity(v, dim, readUnit(unit ?? '') ? unit : undefined, 5));
  const scene = useShown.getState().draw?.().toDataURL('image/png');
  const charts = [...document.querySelectorAll<HTMLCanvasElement>('[data-chart] canvas')].map((c) => `<figure><figcaption>${plain(c.dataset.title)}</figcaption><img alt="${plain(c.dataset.title)} over time" src="${c.toDataURL('image/png')}"></figure>`).join('');
  const limits = whole.limits.filter((l) => !l.off).map((l) => {
    const row = fared.find((x) => x.name === l.name);
    return [l.name, String(l.gauge), String(l.low ?? ''), String(l.high ?? ''), !row ? 'not measured' : (row.fault ?? (row.worst ? `passed: ${show(row.worst.worst, row.worst.dim, row.worst.unit)} at ${row.worst.at.toFixed(3)} s` : 'kept'))];
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${plain(whole.name)}: ${plain(run.label || `run ${run.number}`)}</title>
<style>body{font:14px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;color:#1c2a33}h1{font-size:1.5rem}h2{font-size:1.1rem;border-bottom:1px solid #ccc;margin-top:2rem}table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.2rem .5rem;border-bottom:1px solid #ddd;font-variant-numeric:tabular-nums}figure{display:inline-block;width:48%;margin:.5rem 1% 0 0}img{max-width:100%}figcaption{font-weight:600}.scene{width:100%}@media print{section{break-inside:avoid}}</style></head>
<body><h1>${plain(whole.name)}</h1><p>${plain(run.label || `Run ${run.number}`)}, made ${plain(new Date(run.made).toLocaleString())}: ${plain(run.reached.toPrecision(5))} s of motion${run.statistics ? `, ${run.statistics.steps} steps, largest residual of positions ${plain(run.statistics.positionResidual.toExponential(1))}` : ''}. Asked accuracy ${plain(whole.run.accuracy)}.</p>${whole.note ? `<p>${plain(whole.note)}</p>` : ''}${run.note ? `<p>${plain(run.note)}</p>` : ''}
${scene ? `<figure class="scene"><figcaption>At ${time.toFixed(3)} s</figcaption><img alt="The machine" src="${scene}"></figure>` : ''}
${section('Curves', charts)}
${section('Scores', table(['Score', 'Gauge', 'Value', 'At'], scores.map((s) => [s.name, s.gauge, s.fault ?? show(s.value, s.dim, s.unit), s.at === undefined ? '' : `${s.at.toFixed(4)} s`])))}
${section('Limits', table(['Limit', 'Gauge', 'Not below', 'Not above', 'Result'], limits))}
${section('Workings', table(['Working', 'Formula', 'By hand', 'Measured', 'Difference'], workings.map((w) => [w.name, String(whole.workings.find((x) => x.name === w.name)?.value ?? ''), show(w.hand, w.dim, w.unit), show(w.measured, w.dim, w.unit), w.difference === undefined ? (w.fault ?? '') : `${(100 * w.difference).toPrecision(3)} %`])))}
${section('Parameters', table(['Parameter', 'Value', 'Note'], whole.parameters.map((p) => [p.name, String(p.value ?? ''), p.note ?? ''])))}
</body></html>
`;
}
