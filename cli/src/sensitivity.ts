/** `pivot run --sensitivity`: what moves the scores of a run. */
import { D, type Model, type RunOptions, formatNumber, readUnit, shownUnit } from '@vim-pivot/core';
import { writeCsv } from '@vim-pivot/core/csv';
import type { ModelNumber, Moves, NumberMoves, Sensitivities } from '@vim-pivot/core/sensitivity';
import { explain, print, refused, write } from './terminal';

/** Percent for one percent from which on a number is listed. */
const LEAST = 1e-4;
const counts = (m: Moves): boolean => (m.percent === undefined ? m.whole !== 0 : Math.abs(m.percent) >= LEAST);
/** Numbers listed below a score. */
const LISTED = 12;

/** @param names of numbers, or of elements of which all numbers are meant; `true` for all of the model @throws Refusal for names that are none */
function chosen(all: readonly ModelNumber[], names: readonly string[] | true): readonly ModelNumber[] {
  if (names === true) return all;
  const meant = (n: ModelNumber, name: string) => n.name === name || n.element.name === name,
    unknown = names.find((name) => !all.some((n) => meant(n, name)));
  if (unknown !== undefined)
    throw refused(
      'sensitivity-unknown',
      `“${unknown}” is no number of the model.`,
      `Name elements or numbers of them: ${all.length === 0 ? 'the model has none' : [...new Set(all.map((n) => n.element.name))].slice(0, 12).join(', ')}.`,
    );
  return all.filter((n) => names.some((name) => meant(n, name)));
}

/** @param csv where curves of all gauges are written, how each of them changes with each number @throws Refusal */
export async function whatMoves(
  model: Model,
  asked: Partial<RunOptions>,
  names: readonly string[] | true,
  csv: string | undefined,
): Promise<Sensitivities> {
  const { numbersOf, sensitivities } = await import('@vim-pivot/core/sensitivity'),
    gauges = csv === undefined ? [] : model.gauges.filter((g) => !g.off).map((g) => g.name),
    steps = sensitivities(model, chosen(numbersOf(model), names), asked, gauges);
  let step = steps.next();
  while (!step.done) step = steps.next();
  const found = step.value;
  if (csv !== undefined)
    write(
      csv,
      writeCsv(
        found.time,
        found.numbers.flatMap(({ number, curves }) =>
          (curves ?? []).map((values, g) => ({
            name: `d(${gauges[g]!})/d(${number.name}) per ${number.unit || '1'}`,
            dim: D.none,
            unit: '',
            values,
          })),
        ),
      ),
    );
  return found;
}

/** In words, below each score. */
export function printMoves({ scores, numbers }: Sensitivities): void {
  scores.forEach((s, i) => {
    if (s.value === undefined || !s.dim) return;
    const unit = s.unit ?? shownUnit(s.dim),
      factor = readUnit(unit)?.factor ?? 1,
      list = numbers
        .flatMap(({ number, moves }) => (moves?.[i] && counts(moves[i]) ? [{ number, m: moves[i] }] : []))
        .sort((a, b) => Math.abs(b.m.percent ?? b.m.whole) - Math.abs(a.m.percent ?? a.m.whole));
    print(`  what moves ${s.name} (${formatNumber(s.value / factor)} ${unit}), percent for one percent:`);
    if (list.length === 0) print('    none of these numbers');
    for (const { number, m } of list.slice(0, LISTED)) {
      const per = (x: number) => `${formatNumber(x / factor)} ${unit}${number.unit ? `/(${number.unit})` : ' per 1'}`,
        slope = m.sides ? `less of it ${per(m.sides[0])}, more of it ${per(m.sides[1])}` : per(m.slope);
      const percent = m.percent === undefined ? '' : `${m.percent >= 0 ? '+' : ''}${m.percent.toPrecision(4)} %`,
        against = number.against === 'size' ? ' (one percent of the machine’s size)' : '';
      print(`    ${percent.padStart(12)}  ${number.name.padEnd(32)} ${number.text.padEnd(12)} ${slope}${against}`);
    }
    if (list.length > LISTED) print(`    and ${list.length - LISTED} more, which move it less`);
  });
  for (const { fault } of numbers) if (fault) explain({ severity: 'note', ...fault });
}

/** As JSON: scores in their units. */
export const movesAsJson = ({ scores, numbers }: Sensitivities) =>
  numbers.map(({ number, moves, fault }: NumberMoves) => ({
    number: number.name,
    element: number.element,
    text: number.text,
    unit: number.unit,
    against: number.against,
    ...(fault ? { fault: { code: fault.code, message: fault.message, ...(fault.why ? { why: fault.why } : {}) } } : {}),
    ...(moves
      ? {
          moves: scores.map(({ name, unit }, i) => {
            const m = moves[i],
              factor = readUnit(unit ?? '')?.factor ?? 1;
            return {
              score: name,
              ...(unit === undefined ? {} : { unit }),
              ...(m
                ? {
                    slope: m.slope / factor,
                    ...(m.percent === undefined ? {} : { percent: m.percent }),
                    ...(m.sides ? { less: m.sides[0] / factor, more: m.sides[1] / factor } : {}),
                  }
                : {}),
            };
          }),
        }
      : {}),
  }));
