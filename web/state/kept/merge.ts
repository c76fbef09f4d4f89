/**
 * Three states of a document made one: what each of two has changed since the state they both began from. Elements are told apart by their names,
 * their fields one by one.
 * Where both changed the same, ours stands and it is said so.
 */
export interface Merged<T> {
  merged: T;
  /** Something was changed in both, differently: what the other had there is not in the result. */
  clash: boolean;
}

type Json = unknown;
const same = (a: Json, b: Json): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);
const isRecord = (x: Json): x is Record<string, Json> => typeof x === 'object' && x !== null && !Array.isArray(x);
const isNamed = (x: Json): x is { name: string } => isRecord(x) && typeof x.name === 'string';
const named = (x: Json): x is { name: string }[] => Array.isArray(x) && x.every(isNamed) && new Set(x.map((e) => e.name)).size === x.length;

export function merge<T>(base: T, ours: T, theirs: T): Merged<T> {
  let clash = false;
  const one = (b: Json, o: Json, t: Json): Json => {
    if (same(o, t) || same(t, b)) return o;
    if (same(o, b)) return t;
    if (named(o) && named(t)) return list(named(b) ? b : [], o, t);
    if (isRecord(o) && isRecord(t)) return record(isRecord(b) ? b : {}, o, t);
    clash = true;
    return o;
  };
  const record = (b: Record<string, Json>, o: Record<string, Json>, t: Record<string, Json>): Record<string, Json> => {
    const out: Record<string, Json> = {};
    for (const key of new Set([...Object.keys(o), ...Object.keys(t)])) {
      const value = one(b[key], o[key], t[key]);
      if (value !== undefined) out[key] = value;
    }
    return out;
  };
  const list = (b: readonly { name: string }[], o: readonly { name: string }[], t: readonly { name: string }[]): Json[] => {
    const [before, mine, yours] = [b, o, t].map((x) => new Map(x.map((e) => [e.name, e]))) as [
      Map<string, Json>,
      Map<string, Json>,
      Map<string, Json>,
    ];
    const out: Json[] = [],
      place = new Map<string, number>();
    for (const { name } of o) {
      const value = one(before.get(name), mine.get(name), yours.get(name));
      if (value === undefined) continue;
      place.set(name, out.length);
      out.push(value);
    }
    // what is new there comes after what it stood behind
    let after = -1;
    for (const { name } of t) {
      if (place.has(name)) after = Math.max(after, place.get(name)!);
      else if (!mine.has(name)) {
        const value = one(before.get(name), undefined, yours.get(name));
        if (value === undefined) continue;
        out.splice(++after, 0, value);
        for (const [n, i] of place) if (i >= after) place.set(n, i + 1);
        place.set(name, after);
      }
    }
    return out;
  };
  return { merged: one(base, ours, theirs) as T, clash };
}
