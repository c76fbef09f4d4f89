/** Texts that give names something to stand for: `arm = 80 mm; gap = 2 mm`. */
import { Refusal } from '../diagnosis';

/** @throws Refusal when a part is no `name = value`, or a name stands twice */
export function readAssigned(text: string | undefined): Map<string, string> {
  const out = new Map<string, string>();
  for (const part of (text ?? '').split(';')) {
    if (part.trim() === '') continue;
    const at = part.indexOf('='),
      name = part.slice(0, at).trim(),
      value = part.slice(at + 1).trim();
    const fault = (message: string): never => {
      throw new Refusal([{ code: 'assigned', severity: 'error', message, remedy: 'Write it like “arm = 80 mm; gap = 2 mm”.' }]);
    };
    if (at < 1 || name === '' || value === '') fault(`“${part.trim()}” is not a name, =, and what it stands for.`);
    if (out.has(name)) fault(`“${name}” stands there twice.`);
    out.set(name, value);
  }
  return out;
}

/** `a = 1; b = 2`, as `readAssigned` reads it. */
export const writeAssigned = (values: ReadonlyMap<string, string>): string =>
  [...values].map(([name, value]) => `${name} = ${value}`).join('; ');

/** The same with names and values changed; a text that cannot be read stays as it is. */
export function mapAssigned(text: string, name: (n: string) => string, value: (v: string) => string): string {
  try {
    return writeAssigned(new Map([...readAssigned(text)].map(([n, v]) => [name(n), value(v)])));
  } catch {
    return text;
  }
}
