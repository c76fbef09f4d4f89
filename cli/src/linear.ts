/** `pivot linear`: a machine as a linear system between inputs and gauges, its poles and zeros, and how it answers to swings. */
import { D, type Mechanism, type Model, check, formatNumber, Refusal, readUnit, siUnit, simulate } from '@vim-pivot/core';
import { positive } from './files';
import { explain, print, printJson, refused, write } from './terminal';

export interface LinearCall {
  in: string[];
  out: string[];
  asDrawn?: boolean;
  at?: string;
  from?: string;
  to?: string;
  points?: string;
  csv?: string;
  json?: boolean;
}

/** At a time of a run. @throws Refusal where the run does not come so far */
function after(model: Model, time: number): { m: Mechanism; t: number } {
  const { mechanism } = check(model).built;
  if (!mechanism) throw new Refusal(check(model).diagnoses);
  const options = { ...mechanism.resolution.run, until: time, every: time };
  for (const e of simulate(mechanism, options))
    if (e.type === 'end' && e.status !== 'done') throw new Refusal(e.diagnoses.map((d) => ({ ...d, severity: 'error' as const })));
  return { m: mechanism, t: time };
}

const shown = ({ re, im }: { re: number; im: number }): string =>
  im === 0 ? formatNumber(re, 6) : `${formatNumber(re, 6)} ${im < 0 ? '−' : '+'} ${formatNumber(Math.abs(im), 6)} i`;

/** @param standing the mechanism at its assembled posture */
export async function linear(model: Model, standing: (model: Model) => Mechanism, call: LinearCall): Promise<number> {
  const { equilibrium, frequencyResponse, linearSystem, poles, zeros } = await import('@vim-pivot/core/analyses');
  if (call.at !== undefined && call.asDrawn) throw refused('call-unclear', 'Either --at or --as-drawn: one posture at a time.');
  const { m, t } = call.at === undefined ? { m: standing(model), t: 0 } : after(model, positive('--at', call.at, D.time));
  if (call.at === undefined && !call.asDrawn) equilibrium(m);
  const s = linearSystem(m, t, call.in, call.out),
    units = (list: typeof s.inputs) => list.map(({ name, dim }) => ({ name, unit: siUnit(dim) })),
    found = poles(s),
    between = s.inputs.flatMap((i, k) => s.outputs.map((o, j) => ({ input: i.name, output: o.name, zeros: zeros(s, k, j) })));
  const frequencies = sweep(call),
    response = frequencyResponse(s, frequencies);
  if (call.csv !== undefined) {
    const names = s.outputs.flatMap((o) => s.inputs.flatMap((i) => [`${o.name}/${i.name} size`, `${o.name}/${i.name} phase`])),
      quoted = (x: string) => `"${x.replaceAll('"', '""')}"`;
    write(
      call.csv,
      [
        ['frequency', ...names].map(quoted).join(),
        ['Hz', ...s.outputs.flatMap((o) => s.inputs.flatMap((i) => [`(${siUnit(o.dim)})/(${siUnit(i.dim)})`, 'deg']))].map(quoted).join(),
        ...response.map((rows, n) =>
          [
            frequencies[n],
            ...rows.flatMap((r) => r.flatMap(({ re, im }) => [Math.hypot(re, im), (Math.atan2(im, re) * 180) / Math.PI])),
          ].join(),
        ),
        '',
      ].join('\n'),
    );
  }
  if (call.json) {
    printJson(s.diagnoses, {
      ...{
        states: s.states,
        inputs: units(s.inputs),
        outputs: units(s.outputs),
        A: s.A,
        B: s.B,
        C: s.C,
        D: s.D,
        poles: found,
        zeros: between,
      },
      response: frequencies.map((frequency, n) => ({ frequency, values: response[n] })),
    });
    return 0;
  }
  s.diagnoses.forEach(explain);
  print(`states: ${s.states.join('; ')}`);
  const matrix = (name: string, rows: readonly (readonly number[])[]) => {
    print(`${name} =`);
    rows.forEach((r) => print(`  ${r.map((x) => formatNumber(x, 8)).join('  ')}`));
  };
  matrix('A', s.A);
  matrix('B', s.B);
  matrix('C', s.C);
  matrix('D', s.D);
  print(`poles, 1/s: ${found.map(shown).join(';  ') || 'none'}`);
  for (const z of between) print(`zeros from ${z.input} to ${z.output}, 1/s: ${z.zeros.map(shown).join(';  ') || 'none'}`);
  return 0;
}

const MOST = 100_000;
const FREQUENCY = readUnit('Hz')!.dim;
/** Frequencies in even steps of their logarithm, Hz; none where none are asked for. */
function sweep({ from, to, points = '200' }: LinearCall): number[] {
  if (from === undefined && to === undefined) return [];
  if (from === undefined || to === undefined)
    throw refused('call-unclear', 'Frequencies go from one to another: give both --from and --to.');
  const [lo, hi] = [positive('--from', from, FREQUENCY), positive('--to', to, FREQUENCY)],
    n = Number(points);
  if (!(hi > lo)) throw refused('call-unclear', 'The frequency of --to must be larger than that of --from.');
  if (!Number.isInteger(n) || n < 2 || n > MOST) throw refused('call-unclear', `--points is a whole number from 2 to ${MOST}.`);
  return Array.from({ length: n }, (_, i) => lo * Math.exp((Math.log(hi / lo) * i) / (n - 1)));
}
