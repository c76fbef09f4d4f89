/** What gauges read of the state at hand: as of a record of a run that is in it. */
import type { Channel } from '../elements/declarations';
import { Readings } from '../results/readings';
import { recordLayout } from '../results/record';
import type { Mechanism } from '../system/mechanism';
import { Recorder } from './recorder';
import { noStatistics } from './run-events';
import { Turns } from './turns';

/** Values of channels, SI, for the state in K. It is left as it was. */
export function readPresent(m: Mechanism, t: number, channels: readonly Channel[]): Float64Array {
  const { K } = m.system,
    state = new Float64Array(K.whole.size),
    layout = { ...recordLayout(m), standing: K.standing },
    recorder = new Recorder(layout, m, noStatistics()),
    chunks: Float64Array[] = [];
  K.storeWhole(state);
  recorder.put(t, new Turns(m.system, t));
  for (const e of recorder.flush(t)) if (e.type === 'records') chunks.push(e.data);
  const values = new Readings(m, layout).read(channels, chunks);
  K.loadWhole(state);
  m.system.interpret();
  m.system.accelerate(t);
  return Float64Array.from(channels, (_, i) => values[i]![0] ?? NaN);
}
