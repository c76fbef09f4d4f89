/** How the engine's worker answers: one handler for each request, and words back to the page. */
import type { Reply, Request } from '../protocol';

export const post = (reply: Reply, transfer: Transferable[] = []): void => self.postMessage(reply, { transfer });

/** Handlers of some requests, by their names. */
export type Handlers<T extends Request['type']> = { readonly [K in T]: (m: Extract<Request, { type: K }>) => Promise<void> | void };
