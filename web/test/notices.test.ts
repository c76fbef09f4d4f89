/** The third-party notices are those of what is shipped. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { COPYLEFT, notices, written } from '../../tools/notices';

describe('third-party notices', () => {
  const list = notices('.'),
    file = readFileSync('THIRD-PARTY-NOTICES.md', 'utf8');
  it('are what `npm run notices` writes', () => expect(file).toBe(written(list)));
  it('name every package that is shipped, each with a licence', () => {
    for (const p of ['next', 'react', 'three', 'dexie', 'occt-import-js', 'manifold-3d', 'zod', '@fontsource-variable/archivo'])
      expect(
        list.some((n) => n.name === p),
        p,
      ).toBe(true);
    expect(list.filter((n) => n.licence === 'not named').map((n) => n.name)).toEqual([]);
    expect(list.some((n) => n.name === 'vitest')).toBe(false);
  });
  it('tell where the source of what is under copyleft is', () => {
    const copyleft = list.filter((n) => COPYLEFT.test(n.licence));
    expect(copyleft.map((n) => n.name)).toEqual(expect.arrayContaining(['occt-import-js', 'mediabunny']));
    for (const n of copyleft) expect(n.source, n.name).toMatch(/^https:/);
  });
  it('the project has a licence of its own', () => expect(readFileSync('LICENSE', 'utf8')).toMatch(/^MIT License/));
});
