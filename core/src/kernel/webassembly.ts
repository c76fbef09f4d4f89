/** What kernels use of WebAssembly, which browsers, workers and Node have alike. */

export interface CompiledMemory {
  readonly buffer: ArrayBuffer;
}
interface Api {
  readonly Memory: new (size: { initial: number }) => CompiledMemory;
  readonly Module: new (bytes: Uint8Array<ArrayBuffer>) => object;
  readonly Instance: new (
    module: object,
    imports: Record<string, Record<string, unknown>>,
  ) => { readonly exports: Record<string, unknown> };
}

/** Whether code cannot be compiled here: there is no WebAssembly, or the page's rules forbid it. Known once it has been tried; with the reason. */
export const compiling: { refused: boolean; why?: string } = { refused: false };

/** Left out where there is none: expressions are then evaluated in plain JavaScript. */
export const webAssembly: Api | undefined = (globalThis as { WebAssembly?: Api }).WebAssembly;

/** The smallest module there is: its header. */
const NOTHING = Uint8Array.of(0, 0x61, 0x73, 0x6d, 1, 0, 0, 0);

/** Notes that something could not be compiled: for good only where nothing can, since memory may be short for a moment. */
export function noteFailure(error: unknown): void {
  compiling.why = String(error).slice(0, 200);
  try {
    new webAssembly!.Module(NOTHING);
  } catch {
    compiling.refused = true;
  }
}
