/** The binary format of WebAssembly (W3C WebAssembly Core Specification, ch. 5), as far as kernels need it. */

/** Bytes written one after the other. */
export class Bytes {
  private data: Uint8Array<ArrayBuffer>;
  private length = 0;
  constructor(room = 64) {
    this.data = new Uint8Array(room);
  }

  /** What has been written. */
  get written(): Uint8Array<ArrayBuffer> {
    return this.data.subarray(0, this.length);
  }
  private ensure(more: number): void {
    if (this.length + more <= this.data.length) return;
    const grown = new Uint8Array(Math.max(2 * this.data.length, this.length + more));
    grown.set(this.written);
    this.data = grown;
  }
  byte(b: number): this {
    this.ensure(1);
    this.data[this.length++] = b;
    return this;
  }
  /** Unsigned LEB128. */
  unsigned(n: number): this {
    do {
      const low = n & 127;
      n >>>= 7;
      this.byte(n ? low | 128 : low);
    } while (n);
    return this;
  }
  /** Signed LEB128. */
  signed(n: number): this {
    for (;;) {
      const low = n & 127;
      n >>= 7;
      const last = (n === 0 && !(low & 64)) || (n === -1 && (low & 64) !== 0);
      this.byte(last ? low : low | 128);
      if (last) return this;
    }
  }
  /** A number as it lies in memory, lowest byte first. */
  float(x: number): this {
    number[0] = x;
    return this.all(bytes);
  }
  all(b: ArrayLike<number>): this {
    this.ensure(b.length);
    this.data.set(b, this.length);
    this.length += b.length;
    return this;
  }
  /** A count, then so many items. */
  list<T>(items: readonly T[], write: (item: T) => void): this {
    this.unsigned(items.length);
    items.forEach(write);
    return this;
  }
  /** Content that is told its length beforehand. */
  sized(write: (content: Bytes) => void): this {
    const content = new Bytes();
    write(content);
    return this.unsigned(content.length).all(content.written);
  }
  name(s: string): this {
    return this.sized((b) => b.all([...s].map((c) => c.charCodeAt(0))));
  }
}
const number = new Float64Array(1),
  bytes = new Uint8Array(number.buffer);

export const TYPE = { i32: 0x7f, f64: 0x7c, function: 0x60 } as const;
export const CODE = {
  loop: 0x03,
  end: 0x0b,
  branchIf: 0x0d,
  call: 0x10,
  select: 0x1b,
  get: 0x20,
  set: 0x21,
  tee: 0x22,
  loadWhole: 0x28,
  loadFloat: 0x2b,
  storeFloat: 0x39,
  i32: 0x41,
  f64: 0x44,
  addWhole: 0x6a,
  multiplyWhole: 0x6c,
  lessWhole: 0x49,
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
/** A function: locals beyond its parameters, whole numbers first, and its code without the end. */
export interface Body {
  signature: number;
  /** How many of its locals are whole numbers, for places and counts; left out: none. */
  whole?: number;
  locals: number;
  code: Bytes;
}

/** A module that imports a memory `e.m` and functions of `e`, and exports its last function as `f`, or some by their names. */
export function moduleOf(
  signatures: readonly Signature[],
  imports: readonly Imported[],
  bodies: readonly Body[],
  exported: readonly { name: string; body: number }[] = [{ name: 'f', body: bodies.length - 1 }],
): Uint8Array<ArrayBuffer> {
  const out = new Bytes(4096).all([0x00, 0x61, 0x73, 0x6d, 1, 0, 0, 0]);
  const section = (id: number, write: (content: Bytes) => void) => out.byte(id).sized(write);
  const types = (b: Bytes, list: readonly number[]) => b.list(list, (t) => b.byte(t));
  section(1, (b) => b.list(signatures, ({ takes, gives }) => types(types(b.byte(TYPE.function), takes), gives)));
  section(2, (b) => {
    b.unsigned(1 + imports.length)
      .name('e')
      .name('m')
      .all([2, 0, 1]);
    for (const i of imports) b.name('e').name(i.name).byte(0).unsigned(i.signature);
  });
  section(3, (b) => b.list(bodies, (f) => b.unsigned(f.signature)));
  section(7, (b) =>
    b.list(exported, ({ name, body }) =>
      b
        .name(name)
        .byte(0)
        .unsigned(imports.length + body),
    ),
  );
  section(10, (b) =>
    b.list(bodies, (f) =>
      b.sized((own) => {
        const kinds = [
          { count: f.whole ?? 0, type: TYPE.i32 },
          { count: f.locals, type: TYPE.f64 },
        ].filter((k) => k.count > 0);
        own.list(kinds, ({ count, type }) => own.unsigned(count).byte(type));
        own.all(f.code.written).byte(CODE.end);
      }),
    ),
  );
  return out.written.slice();
}
