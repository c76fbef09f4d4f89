/** The parameters of a model, ready for formulas. */
import type { Diagnosis, ElementRef } from '../diagnosis';
import { jsonPath } from '../diagnosis';
import { CONSTANTS, FUNCTIONS } from '../formula/functions';
import { FormulaError, mustBeUsable } from '../formula/parse';
import { type Binding, compile } from '../formula/compile';
import type { Dimension } from '../quantity/dimension';
import { unitOf } from '../quantity/units';
import type { Model } from './document';
import { familyOf } from './families';
import { placingsOf } from './instances';
import { readTables } from './tables';

/** The value a cell shows beside its formula. */
export interface LiveValue {
  value: number;
  dim: Dimension;
  /** A formula of time; the value is that at t = 0. */
  varies: boolean;
  /** For a formula of time: its values over the run, evenly spaced from 0 to the end. */
  samples?: number[];
}

const IDENTIFIER = /^[A-Za-z_][A-Za-z_0-9]*$/;

/** Parameters are evaluated in the order in which they need each other; circles are refused. */
export function resolveParameters(
  model: Pick<Model, 'parameters' | 'tables'>,
  diagnoses: Diagnosis[],
  live: Map<string, LiveValue>,
  off: ReadonlySet<string>,
) {
  const tables = readTables(model, diagnoses, off);
  const byName = new Map(model.parameters.map((p, i) => [p.name, i]));
  const done = new Map<string, Binding | undefined>();
  const stack: string[] = [];

  function evaluate(name: string): Binding | undefined {
    if (done.has(name)) return done.get(name);
    const index = byName.get(name);
    if (index === undefined) return undefined;
    const loop = stack.indexOf(name);
    if (loop >= 0) {
      const circle = [...stack.slice(loop), name].join(' → ');
      throw new FormulaError('formula-cycle', `The formula refers back to itself: ${circle}.`, 0, 0);
    }
    stack.push(name);
    const path = ['parameters', index, 'value'];
    const element: ElementRef = { family: 'parameters', name };
    let result: Binding | undefined;
    try {
      const p = compile((model.parameters[index]!.value ?? '') as string | number, {
        lookup,
        time: false,
        names: () => byName.keys(),
        table: (n) => tables.get(n)?.asFunction(n),
      });
      result = { value: p.at(0).v, dim: p.dim };
      mustBeUsable(result.value);
      live.set(jsonPath(path), { ...result, varies: false });
    } catch (e) {
      if (!(e instanceof FormulaError)) throw e;
      result = undefined;
      diagnoses.push({ code: e.code, severity: 'error', message: e.message, path, element });
    }
    stack.pop();
    done.set(name, result);
    return result;
  }

  function lookup(name: string): Binding | undefined {
    if (!byName.has(name)) return undefined;
    const found = evaluate(name);
    if (!found) throw new FormulaError('formula-depends', `It depends on ${name}, which is in error.`, 0, 0);
    return found;
  }

  for (const family of ['parameters', 'tables'] as const)
    for (const [i, p] of model[family].entries()) {
      const taken =
        p.name === 't'
          ? 'time'
          : unitOf(p.name)
            ? `the unit ${unitOf(p.name)!.label}`
            : FUNCTIONS[p.name]
              ? 'a function'
              : CONSTANTS[p.name]
                ? 'a constant'
                : undefined;
      const element = { family, name: p.name };
      if (taken)
        diagnoses.push({
          code: 'name-reserved',
          severity: 'error',
          message: `“${p.name}” is already the name of ${taken}.`,
          path: [family, i, 'name'],
          element,
          remedy: 'Choose another name.',
        });
      else if (placingsOf(p).length === 0 && !IDENTIFIER.test(p.name))
        diagnoses.push({
          code: 'name-identifier',
          severity: 'error',
          message: `The name of a ${familyOf(family).one} is used in formulas: letters, digits and _ only, not starting with a digit.`,
          path: [family, i, 'name'],
          element,
        });
    }
  for (const p of model.parameters) evaluate(p.name);
  return { lookup, tables };
}
