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

/** Whether code cannot be compiled here: there is no WebAssembly, or the page's rules forbid it. Known once it has been tried. */
export const compiling = { refused: false };

/** Left out where there is none: expressions are then evaluated in plain JavaScript. */
export const webAssembly: Api | undefined = (globalThis as { WebAssembly?: Api }).WebAssembly;
