/** The analyses there are. */
import { Refusal } from '../../diagnosis';
import type { Model } from '../../model/document';
import { ABOUT_WORDS, type About, type Analysis, type Declared, type Found, type Given, type Settings } from './analysis';
import { bring, standing } from './about';
import { equilibria } from './equilibria';
import { linear } from './linear';
import { modes } from './modes';
import { motions } from './motions';
import { range } from './range';
import { settingsFrom } from './settings';

/** In the order in which they are shown. */
export const ANALYSES: readonly Analysis[] = [motions, equilibria, modes, linear, range];

/** @throws Refusal */
export function analysisNamed(name: string): Analysis {
  const found = ANALYSES.find((a) => a.name === name);
  if (!found) throw new Refusal([{ code: 'analysis-unknown', severity: 'error', message: `There is no analysis “${name}”.` }]);
  return found;
}

/** The model an analysis works in. */
const modelFor = ({ undriven }: Analysis, model: Model): Model =>
  undriven ? { ...model, drives: [], gauges: [], scores: [], limits: [], workings: [] } : model;

/** Makes one. Yields how far it has come, from 0 to 1. @throws Refusal */
export function* analysed(name: string, model: Model, given: Given): Generator<number, Found, void> {
  const a = analysisNamed(name),
    m = standing(modelFor(a, model)),
    of = settingsFrom<Settings>(a.settings, given.settings, { m, model }),
    about = given.about ?? a.about ?? 'start';
  return yield* a.work({ model, m, t: a.about ? bring(m, about, given) : 0, about, of });
}

/** All of them as data, with the names that a model has for their settings; none where it cannot be built. */
export function declared(model: Model | undefined): Declared[] {
  return ANALYSES.map(({ name, label, help, ask, about, undriven, settings, ...a }) => {
    const m = model && machine(modelFor({ undriven, ...a } as Analysis, model));
    return {
      ...{ name, label, help, ask },
      ...(about ? { about } : {}),
      abouts: about ? (Object.entries(ABOUT_WORDS) as [About, string][]) : [],
      settings: Object.entries(settings).map(([key, s]) =>
        s.type === 'name' ? { ...s, key, names: m && model ? s.names({ m, model }) : [] } : { ...s, key },
      ),
    };
  });
}
function machine(model: Model): ReturnType<typeof standing> | undefined {
  try {
    return standing(model);
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return undefined;
  }
}
