/** The binary format of WebAssembly (W3C WebAssembly Core Specification, ch. 5), as far as kernels need it. */

/** Unsigned LEB128. */
export function unsigned(n: number): number[] {
  const out: number[] = [];
  do {
    const low = n & 127;
    n >>>= 7;
    out.push(n ? low | 128 : low);
  } while (n);
  return out;
}
/** Signed LEB128. */
export function signed(n: number): number[] {
  const out: number[] = [];
  for (;;) {
    const low = n & 127;
    n >>= 7;
    if ((n === 0 && !(low & 64)) || (n === -1 && low & 64)) {
      out.push(low);
      return out;
    }
    out.push(low | 128);
  }
}
const number = new Float64Array(1),
  bytes = new Uint8Array(number.buffer);
/** A number as it lies in memory, lowest byte first. */
export function float(x: number): readonly number[] {
  number[0] = x;
  return [...bytes];
}
const text = (s: string): number[] => [...unsigned(s.length), ...[...s].map((c) => c.charCodeAt(0))];

export const TYPE = { i32: 0x7f, f64: 0x7c, function: 0x60 } as const;
export const CODE = {
  end: 0x0b,
  call: 0x10,
  select: 0x1b,
  get: 0x20,
  set: 0x21,
  tee: 0x22,
  loadFloat: 0x2b,
  storeFloat: 0x39,
  i32: 0x41,
  f64: 0x44,
  less: 0x63,
  shiftLeft: 0x74,
  abs: 0x99,
  neg: 0x9a,
  sqrt: 0x9f,
  add: 0xa0,
  sub: 0xa1,
  mul: 0xa2,
  div: 0xa3,
  min: 0xa4,
  max: 0xa5,
} as const;

/** Parameters and results by their types. */
export interface Signature {
  takes: readonly number[];
  gives: readonly number[];
}
export interface Imported {
  name: string;
  signature: number;
}
/** A function: locals beyond its parameters, all numbers, and its code without the end. */
export interface Body {
  signature: number;
  locals: number;
  code: readonly number[];
}

const vector = (items: readonly (readonly number[])[]): number[] => [...unsigned(items.length), ...items.flat()];
function section(id: number, content: readonly number[]): number[] {
  const out = [id, ...unsigned(content.length)];
  for (const b of content) out.push(b);
  return out;
}

/** A module that imports a memory `e.m` and functions of `e`, and exports its last function as `f`. */
export function moduleOf(signatures: readonly Signature[], imports: readonly Imported[], bodies: readonly Body[]): Uint8Array<ArrayBuffer> {
  const from = (name: string) => [...text('e'), ...text(name)];
  const types = signatures.map(({ takes, gives }) => [TYPE.function, ...vector(takes.map((t) => [t])), ...vector(gives.map((t) => [t]))]);
  const imported = [[...from('m'), 2, 0, 1], ...imports.map((i) => [...from(i.name), 0, ...unsigned(i.signature)])];
  const code = bodies.map((b) => {
    const own = [...(b.locals > 0 ? [1, ...unsigned(b.locals), TYPE.f64] : [0])];
    for (const x of b.code) own.push(x);
    own.push(CODE.end);
    const out = unsigned(own.length);
    for (const x of own) out.push(x);
    return out;
  });
  const parts = [
    [0x00, 0x61, 0x73, 0x6d, 1, 0, 0, 0],
    section(1, vector(types)),
    section(2, vector(imported)),
    section(3, vector(bodies.map((b) => unsigned(b.signature)))),
    section(7, vector([[...text('f'), 0, ...unsigned(imports.length + bodies.length - 1)]])),
    section(10, vector(code)),
  ];
  const whole = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    whole.set(p, at);
    at += p.length;
  }
  return whole;
}
