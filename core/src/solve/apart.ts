import type { Mechanism } from '../system/mechanism';
import type { RunEvent } from './run-events';

/**
 * Goes through a run in a workspace that nobody else is at work in: the machine's own, or another of the same machine while that is taken. Runs of one
 * machine may so be advanced by turns.
 */
export function* apart(m: Mechanism, run: (own: Mechanism) => Generator<RunEvent, void, void>): Generator<RunEvent, void, void> {
  const own = m.taken ? m.apart() : m;
  own.taken = true;
  // every run begins alike, whatever was done before
  own.system.interpret();
  try {
    yield* run(own);
  } finally {
    own.taken = false;
  }
}
