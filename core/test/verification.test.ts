/** What the user asks is what the user gets: every verification problem at four accuracies. */
import { describe, expect, it } from 'vitest';
import { compiling } from '../src/kernel/webassembly';
import { FAMILIES_OF_PROBLEMS } from './verification';
import { allowed, error, forcing } from './verification/problem';

for (const family of FAMILIES_OF_PROBLEMS)
  describe(family.title, () => {
    for (const p of family.problems) {
      const accuracies = p.exact === undefined ? [1e-3, 1e-5, 1e-7, 1e-9] : [1e-6];
      const holds = (accuracy: number) => {
        for (const c of p.solve(accuracy))
          expect(error(c), `${c.quantity}: ${c.ours} against ${c.reference}`).toBeLessThan(allowed(p, accuracy));
      };
      it.each(accuracies)(`${p.title}, asked %d`, holds);
      if (p.exact === undefined)
        it.each([1e-5, 1e-7])(`${p.title}, asked %d of implicit steps`, (a) => forcing({ method: 'implicit' }, () => holds(a)));
    }
  });

it('there are at least 45 problems', () => {
  expect(FAMILIES_OF_PROBLEMS.flatMap((f) => f.problems).length).toBeGreaterThanOrEqual(45);
});

it('all of it was compiled', () => {
  expect(compiling.why).toBeUndefined();
});
