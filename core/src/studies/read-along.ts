/**
 * What gauges read at recorded states of a run, and how that changes with the state and with numbers of the model: exactly, where what is read is an
 * expression of posture and motion; else by differences.
 */
import { isLength } from '../equations/layout';
import { Readings } from '../results/readings';
import type { Neighbour } from '../solve/sensitivity/neighbour';
import type { Changed, Retrace } from '../solve/sensitivity/retrace';
import { Pull } from '../system/adjoint/pull';
import { Reading, differenceOf, statedIn } from '../system/adjoint/reading';

/** Numbers of a state next to it, by which is looked how what is read changes. */
const ASIDE = 1e-5;

/** What gauges read at recorded states, before anything is made of a whole course, and how that changes. */
export interface ReadAlong {
  /** By gauge and record. */
  readonly own: readonly Float64Array[];
  /** By gauge and record: with each number of the state. */
  readonly states: readonly (readonly Float64Array[])[];
  /** By number of the model and gauge: with it, at each record, while the state stays. */
  readonly numbers: readonly (readonly Float64Array[])[];
}

/** A gauge that is an expression, and how the numbers that it names change with each number of the model; undefined where it is another expression then. */
interface Exact {
  readonly reading: Reading;
  readonly changes: readonly (Float64Array | undefined)[];
}
function exactOf({ own, part }: Retrace, numbers: readonly Changed[], name: string): Exact | undefined {
  const of = ({ m }: Neighbour) => statedIn(m.system, m.channel(name).stated),
    value = of(own);
  return (
    value && {
      reading: new Reading(own.m.system, value),
      changes: numbers.map(({ less, more }) => differenceOf(of(less), of(more), value)?.map((x) => x / (2 * part))),
    }
  );
}

/** @param times of the records @param angles of each, counting whole turns */
export function* readAlong(
  run: Retrace,
  numbers: readonly Changed[],
  times: readonly number[],
  wanted: readonly string[],
  angles: (record: number) => Float64Array,
): Generator<number, ReadAlong, void> {
  const { own, part } = run,
    n = own.y.length,
    { size, system } = own.m,
    aside = Float64Array.from(system.K.layout.kind, (k) => ASIDE * (isLength(k) ? size : 1)),
    change = new Float64Array(n),
    pull = new Pull(system.K),
    list = () => new Float64Array(times.length),
    exact = wanted.map((name) => exactOf(run, numbers, name)),
    differing = exact.includes(undefined),
    /** Numbers with which machines have to be read. */
    asked = numbers.map((_, p) => exact.some((x) => !x?.changes[p])),
    out = {
      own: wanted.map(list),
      states: wanted.map(() => times.map(() => new Float64Array(n))),
      numbers: numbers.map(() => wanted.map(list)),
    };
  let record = 0;
  yield* run.states(times, (t, y, memory) => {
    const k = record++,
      turned = angles(k),
      state = y.slice();
    own.at(state);
    system.K.load(own.y);
    exact.forEach((x, g) => {
      if (!x) return;
      out.own[g]![k] = x.reading.read(t, turned);
      pull.state(x.reading.by, state, out.states[g]![k]!);
      x.changes.forEach(
        (by, p) => by && (out.numbers[p]![g]![k] = told(by, x.reading.byNumbers) + numbers[p]!.cells.standing(x.reading.by)),
      );
    });
    if (differing) {
      own.record(t, turned);
      for (let j = 0; j < n; j++) {
        change[j] = aside[j]!;
        for (const by of [-1, 1]) {
          own.near(state, change, by);
          own.record(t, turned);
        }
        change[j] = 0;
      }
    }
    numbers.forEach(({ less, more }, p) => {
      for (const x of asked[p] ? [less, more] : []) {
        x.m.memories.recall(memory);
        x.at(state);
        x.record(t, turned);
      }
    });
  });
  const read = (x: Neighbour) => {
      x.flush();
      const channels = wanted.map((name) => x.m.channel(name));
      return new Readings(x.m, x.layout).taken(channels, x.chunks);
    },
    // each record is followed by two for every number of the state
    each = 2 * n + 1,
    found = differing ? read(own) : [];
  exact.forEach((x, g) => {
    for (let k = 0; k < (x ? 0 : times.length); k++) {
      const at = (i: number) => found[g]![each * k + i]!;
      out.own[g]![k] = at(0);
      aside.forEach((by, j) => (out.states[g]![k]![j] = (at(2 * j + 2) - at(2 * j + 1)) / (2 * by)));
    }
  });
  numbers.forEach(({ less, more }, p) => {
    if (!asked[p]) return;
    const [a, b] = [read(less), read(more)] as [Float64Array[], Float64Array[]];
    exact.forEach((x, g) => {
      if (!x?.changes[p]) out.numbers[p]![g]!.set(a[g]!.map((v, k) => (b[g]![k]! - v) / (2 * part)));
    });
  });
  return out;
}

/** What numbers come to that change: the others may have any derivative. */
const told = (change: Float64Array, by: Float64Array): number => change.reduce((sum, x, k) => (x === 0 ? sum : sum + x * by[k]!), 0);
