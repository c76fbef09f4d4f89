/** Talks to the workers: one checks models after each edit, one runs them and keeps their states. */
import { type Family, type LiveValue, Refusal, type Model } from '@vim-pivot/core/page';
import type { Checked, Picture, Reply, Request } from './protocol';

type Unsent = Request extends infer R ? (R extends Request ? Omit<R, 'id'> : never) : never;

class Engine {
  private readonly worker: Worker;
  private readonly listeners = new Map<number, (r: Reply) => void>();
  private next = 1;

  constructor() {
    // bundled apart from the page: see next.config.ts
    this.worker = new Worker(`/engine/engine.js?v=${process.env.ENGINE_VERSION}`, { type: 'module' });
    // A worker that cannot start would leave the page waiting without a word.
    this.worker.onerror = (e) => {
      const diagnosis = { code: 'engine-failed', severity: 'error' as const, message: `The engine failed: ${e.message || 'its file could not be loaded'}.`, remedy: 'Reload the page; your projects are saved.' };
      const waiting = [...this.listeners];
      this.listeners.clear();
      for (const [id, listener] of waiting) listener({ type: 'refused', id, diagnoses: [diagnosis] });
    };
    this.worker.onmessage = ({ data }: MessageEvent<Reply>) => this.listeners.get(data.id)?.(data);
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
      this.stream(message, (r) => {
        if (r.type === type) resolve(r as Extract<Reply, { type: T }>);
        else if (r.type === 'refused') reject(new Refusal(r.diagnoses));
        return true;
      }, transfer);
    });
  }
}

let modelEngine: Engine | undefined;
let runEngine: Engine | undefined;
let exploreEngine: Engine | undefined;
export const modelWorker = (): Engine => (modelEngine ??= new Engine());
export const runWorker = (): Engine => (runEngine ??= new Engine());
/** For what takes its time while editing and running go on. */
export const exploreWorker = (): Engine => (exploreEngine ??= new Engine());

export const fetchDeclarations = async () => (await modelWorker().ask({ type: 'declarations' }, 'declarations')).kinds;
export const fetchWords = async () => (await modelWorker().ask({ type: 'words' }, 'words')).words;
export async function evaluate(model: Model, path: string): Promise<{ live?: LiveValue; fault?: string }> {
  const { live, fault } = await modelWorker().ask({ type: 'evaluate', model, path }, 'evaluated');
  return { ...(live ? { live } : {}), ...(fault ? { fault } : {}) };
}
export const characteristicOf = async (model: Model, family: Family, name: string) => (await modelWorker().ask({ type: 'characteristic', model, family, name }, 'characteristic')).curve;
export const massOf = async (model: Model, family: 'bodies' | 'shapes', name: string) => (await modelWorker().ask({ type: 'mass', model, family, name }, 'mass')).mass;
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
