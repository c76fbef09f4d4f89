/** A page that holds all of a reading by itself: the machine, its charts, scores, limits and workings; for printing and for handing on. */
import { formatQuantity, readUnit, fixed } from '@vim-pivot/core/page';
import { useDocument } from '../document/document';
import { useReadings } from './readings';
import { timeShown, useRuns } from '../runs/runs';
import { placeOf, tilesOn, useSheets } from './sheets';
import { drawers, useDisplayed } from '../scene/displayed';

const plain = (s: unknown): string =>
  String(s ?? '').replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const table = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
  rows.length === 0
    ? ''
    : `<table><thead><tr>${head.map((h) => `<th>${plain(h)}</th>`).join('')}</tr></thead><tbody>${rows.map((r) => `<tr>${r.map((c) => `<td>${plain(c)}</td>`).join('')}</tr>`).join('')}</tbody></table>`;
const section = (title: string, body: string): string => (body === '' ? '' : `<section><h2>${plain(title)}</h2>${body}</section>`);

/** A tile of the sheet that is open, as it stands there; `words` of a note come from the model. */
function tileOf(name: string, article: Element, words: string | undefined): string {
  const parts: string[] = [];
  for (const c of article.querySelectorAll('canvas')) {
    const drawn = drawers.get(c)?.() ?? c;
    parts.push(`<img alt="${plain(c.dataset.title ?? name)}" src="${drawn.toDataURL('image/png')}">`);
  }
  // colours of a legend are those of its lines
  const legend = [...article.querySelectorAll('ul[aria-label=Legend] li')].map((l) => {
    const line = l.querySelector('line,path,rect'),
      colour = line && getComputedStyle(line).stroke;
    return `<li${colour && /^rgb/.test(colour) ? ` style="color:${colour}"` : ''}>${plain(
      [...l.childNodes]
        .map((n) => n.textContent)
        .join(' ')
        .replace(' ,', ','),
    )}</li>`;
  });
  if (legend.length > 0) parts.unshift(`<ul>${legend.join('')}</ul>`);
  for (const i of article.querySelectorAll('img')) if (i.src.startsWith('data:')) parts.push(`<img alt="${plain(i.alt)}" src="${i.src}">`);
  for (const t of article.querySelectorAll('table')) {
    const rows = [...t.rows].map((r) => [...r.cells].map((c) => c.textContent ?? ''));
    parts.push(table(rows[0] ?? [], rows.slice(1)));
  }
  if (article.getAttribute('data-tile') === 'number')
    for (const p of article.querySelectorAll('p'))
      parts.push(`<p class="${p.classList.contains('text-2xl') ? 'large' : 'under'}">${plain(p.textContent)}</p>`);
  if (article.getAttribute('data-tile') === 'note')
    parts.push(
      ...(words ?? '')
        .split(/\n\s*\n/)
        .filter(Boolean)
        .map((w) => `<p>${plain(w)}</p>`),
    );
  return parts.join('');
}

/** The sheet that is open, its tiles in the places they have; empty when none is. */
function sheetSection(): string {
  const { model } = useDocument.getState(),
    { open } = useSheets.getState();
  const tiles = [...tilesOn(model, open)]
    .sort((a, b) => placeOf(a)[1] - placeOf(b)[1] || placeOf(a)[0] - placeOf(b)[0])
    .flatMap((t) => {
      const article = document.querySelector(`article[data-tile][aria-label="${CSS.escape(t.name)}"]`),
        [x, y, w, h] = placeOf(t);
      return article
        ? [
            `<article style="grid-column:${x + 1}/span ${w};grid-row:${y + 1}/span ${h}"><h3>${plain(t.name)}</h3>${tileOf(t.name, article, t.note)}</article>`,
          ]
        : [];
    });
  return tiles.length > 0 ? section(open!, `<div class="sheet">${tiles.join('')}</div>`) : '';
}

/** Of the sheet that is open, or else of the charts that are drawn. @returns undefined when there is no run */
export function report(): string | undefined {
  const { whole } = useDocument.getState(),
    { runs, current } = useRuns.getState(),
    time = timeShown(),
    run = runs.find((r) => r.id === current);
  if (!whole || !run) return undefined;
  const { scores, limits: fared, workings } = useReadings.getState();
  const show = (v: number | undefined, dim: Parameters<typeof formatQuantity>[1] | undefined, unit?: string) =>
    v === undefined || !dim ? '' : formatQuantity(v, dim, readUnit(unit ?? '') ? unit : undefined, 5);
  // charts are drawn for the paper they lie on
  const paper = getComputedStyle(document.documentElement).getPropertyValue('--color-sheet').trim();
  const sheet = sheetSection();
  const scene = sheet ? undefined : useDisplayed.getState().draw?.().toDataURL('image/png');
  const charts = sheet
    ? ''
    : [...document.querySelectorAll<HTMLCanvasElement>('[data-chart] canvas')]
        .map(
          (c) =>
            `<figure><figcaption>${plain(c.dataset.title)}</figcaption><img alt="${plain(c.dataset.title)} over time" src="${c.toDataURL('image/png')}"></figure>`,
        )
        .join('');
  const limits = fared.map(({ name, gauge, fault, worst, dim, unit }) => {
    const own = whole.limits.find((l) => l.name === name);
    return [
      name,
      gauge,
      String(own?.low ?? ''),
      String(own?.high ?? ''),
      fault ?? (worst ? `passed: ${show(worst.worst, dim, unit)} at ${fixed(worst.at, 3)} s` : 'kept'),
    ];
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${plain(whole.name)}: ${plain(run.label || `run ${run.number}`)}</title>
<style>body{font:14px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;color:#1c2a33}h1{font-size:1.5rem}h2{font-size:1.1rem;border-bottom:1px solid #ccc;margin-top:2rem}table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.2rem .5rem;border-bottom:1px solid #ddd;font-variant-numeric:tabular-nums}figure{display:inline-block;width:48%;margin:.5rem 1% 0 0}img{max-width:100%}figcaption{font-weight:600}.scene{width:100%}.sheet{display:grid;grid-template-columns:repeat(12,1fr);grid-auto-rows:minmax(1.9rem,auto);gap:.6rem}.sheet article{border:1px solid #ddd;border-radius:.4rem;padding:.5rem;overflow:hidden}.sheet h3{margin:0 0 .3rem;font-size:1rem}.sheet img{display:block;width:100%;background:${plain(paper)}}.sheet ul{margin:0;padding:0;list-style:none;display:flex;flex-wrap:wrap;gap:0 1rem;font-size:.8rem}.large{font-size:1.6rem;margin:.2rem 0}.under{color:#56656b;margin:0}@media print{section{break-inside:avoid}}</style></head>
<body><h1>${plain(whole.name)}</h1><p>${plain(run.label || `Run ${run.number}`)}, made ${plain(new Date(run.made).toLocaleString())}: ${plain(run.reached.toPrecision(5))} s of motion${run.statistics ? `, ${run.statistics.steps} steps, largest residual of positions ${plain(run.statistics.positionResidual.toExponential(1))}` : ''}. Asked accuracy ${plain(whole.run.accuracy)}.</p>${whole.note ? `<p>${plain(whole.note)}</p>` : ''}${run.note ? `<p>${plain(run.note)}</p>` : ''}
${scene ? `<figure class="scene"><figcaption>At ${fixed(time, 3)} s</figcaption><img alt="The machine" src="${scene}"></figure>` : ''}
${sheet}
${section('Curves', charts)}
${section(
  'Scores',
  table(
    ['Score', 'Gauge', 'Value', 'At'],
    scores.map((s) => [s.name, s.gauge, s.fault ?? show(s.value, s.dim, s.unit), s.at === undefined ? '' : `${fixed(s.at, 4)} s`]),
  ),
)}
${section('Limits', table(['Limit', 'Gauge', 'Lower bound', 'Upper bound', 'Result'], limits))}
${section(
  'Workings',
  table(
    ['Working', 'Formula', 'By hand', 'Measured', 'Difference'],
    workings.map((w) => [
      w.name,
      String(whole.workings.find((x) => x.name === w.name)?.value ?? ''),
      show(w.hand, w.dim, w.unit),
      show(w.measured, w.dim, w.unit),
      w.difference === undefined ? (w.fault ?? '') : `${(100 * w.difference).toPrecision(3)} %`,
    ]),
  ),
)}
${section(
  'Parameters',
  table(
    ['Parameter', 'Value', 'Note'],
    whole.parameters.map((p) => [p.name, String(p.value ?? ''), p.note ?? '']),
  ),
)}
</body></html>
`;
}
