/** While the hands rest, the worker that runs machines is brought up and made ready for this one: the first Run then takes no longer than later ones. */
import { FAMILIES, type Model } from '@vim-pivot/core/page';
import { runWorker } from '../../workers/client';
import { useDocument } from '../document/document';
import { useRuns } from './runs';

/** Rest of the hands after which that is done, ms. */
const REST = 1000;
let timer: ReturnType<typeof setTimeout> | undefined;
let watching = false;
/** The machine that it was last made ready for. */
let done = '';

/** Begins to do so. */
export function watch(): void {
  if (watching) return;
  watching = true;
  const later = () => {
    clearTimeout(timer);
    timer = setTimeout(makeReady, REST);
  };
  useDocument.subscribe((now, before) => {
    if (now.model !== before.model) later();
  });
  makeReady();
}

/** Of which kinds of elements a machine is made: numbers in it do not change its code. */
const makeOf = (model: Model): string =>
  JSON.stringify(FAMILIES.map(({ key }) => model[key].map((e) => [(e as { kind?: string }).kind, e.off])));

function makeReady(): void {
  const { model, diagnoses } = useDocument.getState(),
    make = model && makeOf(model);
  if (!make || make === done || diagnoses.some((d) => d.severity === 'error')) return;
  done = make;
  // a run makes it ready as well
  if (useRuns.getState().running) return;
  // what is wrong with the machine is told by its check, and by its run
  void runWorker()
    .ask({ type: 'ready', model }, 'done')
    .catch(() => undefined);
}
