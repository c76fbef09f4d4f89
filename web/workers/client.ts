/** Talks to the workers: one checks models after each edit, one runs them and keeps their states. */
import { type Family, type LiveValue, Refusal, type Model } from '@vim-pivot/core/page';
import type { Checked, Picture, Reply, Request } from './protocol';

type Unsent = Request extends infer R ? (R extends Request ? Omit<R, 'id'> : never) : never;

class Engine {
  private current: Worker | undefined;
  private readonly listeners = new Map<number, (r: Reply) => void>();
  private next = 1;

  /** @param died is told when the worker is gone; the next request starts another */
  constructor(private readonly died: () => void) {}

  private get worker(): Worker {
    if (this.current) return this.current;
    // bundled apart from the page: see next.config.mjs
    const worker = (this.current = new Worker(`/engine/engine.js?v=${process.env.ENGINE_VERSION}`, { type: 'module' }));
    worker.onerror = (e) => this.bury(e.message || 'its file could not be loaded');
    worker.onmessageerror = () => this.bury('a message could not be read');
    worker.onmessage = ({ data }: MessageEvent<Reply>) => this.listeners.get(data.id)?.(data);
    return worker;
  }

  /** All that waits is answered in words, and another worker takes over. */
  private bury(why: string): void {
    this.current?.terminate();
    this.current = undefined;
    const diagnosis = {
      code: 'engine-failed',
      severity: 'error' as const,
      message: `The engine stopped: ${why}. It is started anew.`,
      remedy: 'Try again; if it stops once more, undo the last change or reload the page. Your projects are saved.',
    };
    const waiting = [...this.listeners];
    this.listeners.clear();
    for (const [id, listener] of waiting) listener({ type: 'refused', id, diagnoses: [diagnosis] });
    this.died();
  }

  /** Sends a request and hands every reply to the listener until it returns true. */
  stream(message: Unsent, listener: (r: Reply) => boolean, transfer: Transferable[] = []): number {
    const id = this.next++;
    this.listeners.set(id, (r) => {
      if (listener(r)) this.listeners.delete(id);
    });
    this.worker.postMessage({ ...message, id }, transfer);
    return id;
  }

  /** Sends a request with one reply. @throws Refusal when the worker refuses */
  ask<T extends Reply['type']>(message: Unsent, type: T, transfer: Transferable[] = []): Promise<Extract<Reply, { type: T }>> {
    return new Promise((resolve, reject) => {
      this.stream(
        message,
        (r) => {
          if (r.type === type) resolve(r as Extract<Reply, { type: T }>);
          else if (r.type === 'refused') reject(new Refusal(r.diagnoses));
          return true;
        },
        transfer,
      );
    });
  }
}

type Which = 'model' | 'run' | 'explore';
const mourners = new Set<(which: Which) => void>();
/** Is told when a worker had to be given up. */
export const onEngineLost = (listener: (which: Which) => void): void => void mourners.add(listener);

const engines = new Map<Which, Engine>();
function engine(which: Which): Engine {
  let found = engines.get(which);
  if (!found) engines.set(which, (found = new Engine(() => mourners.forEach((tell) => tell(which)))));
  return found;
}
export const modelWorker = (): Engine => engine('model');
export const runWorker = (): Engine => engine('run');
/** For what takes its time while editing and running go on. */
export const exploreWorker = (): Engine => engine('explore');

export const fetchDeclarations = async () => (await modelWorker().ask({ type: 'declarations' }, 'declarations')).kinds;
export const fetchWords = async () => (await modelWorker().ask({ type: 'words' }, 'words')).words;
export async function evaluate(model: Model, path: string): Promise<{ live?: LiveValue; fault?: string }> {
  const { live, fault } = await modelWorker().ask({ type: 'evaluate', model, path }, 'evaluated');
  return { ...(live ? { live } : {}), ...(fault ? { fault } : {}) };
}
export const characteristicOf = async (model: Model, family: Family, name: string) =>
  (await modelWorker().ask({ type: 'characteristic', model, family, name }, 'characteristic')).curve;
export const massOf = async (model: Model, family: 'bodies' | 'shapes', name: string) =>
  (await modelWorker().ask({ type: 'mass', model, family, name }, 'mass')).mass;
export const parseModel = (text: string) => modelWorker().ask({ type: 'parse', text }, 'parsed');
/** Checks a model. @param early is given the picture as soon as the machine is assembled, before the findings are known */
export function checkModel(model: Model, early?: (picture: Picture) => void): Promise<Checked> {
  return new Promise((resolve, reject) => {
    let picture: Picture | undefined;
    modelWorker().stream({ type: 'check', model }, (r) => {
      if (r.type === 'drawn') {
        picture = r.picture;
        early?.(picture);
        return false;
      }
      if (r.type === 'checked') resolve({ ...r.checked, ...(picture ? { picture } : {}) });
      else if (r.type === 'refused') reject(new Refusal(r.diagnoses));
      return true;
    });
  });
}
