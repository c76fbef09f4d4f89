/** Solves every verification problem and writes docs/verification.md. Usage: npm run verify */
import { writeFileSync } from 'node:fs';
import { FAMILIES_OF_PROBLEMS } from '../test/verification';
import { type Compared, error } from '../test/verification/problem';

const DEFAULT = 1e-5,
  TIGHT = 1e-8;
const number = (x: number): string =>
  x === 0 ? '0' : Math.abs(x) >= 1e-3 && Math.abs(x) < 1e5 ? String(Number(x.toPrecision(9))) : x.toExponential(6);
const small = (x: number): string => (x < 1e-15 ? '< 1e-15' : x.toExponential(1));

let count = 0,
  failed = 0;
const parts = FAMILIES_OF_PROBLEMS.map(({ title, problems }) => {
  const rows = problems.map((p) => {
    count++;
    const usual = p.solve(DEFAULT),
      tight: Compared[] = p.exact === undefined ? p.solve(TIGHT) : usual;
    const lines = usual.map((c, k) => {
      const e = error(c);
      if (!(e < (p.exact ?? DEFAULT))) failed++;
      return `| ${c.quantity} | ${c.unit || '–'} | ${number(c.reference)} | ${number(c.ours)} | ${small(e)} | ${p.exact === undefined ? `${number(tight[k]!.ours)} | ${small(error(tight[k]!))}` : 'the same | the same'} |`;
    });
    console.log(`${p.title}: ${usual.map((c) => small(error(c))).join(', ')}`);
    return `### ${count}. ${p.title}\n\nSource: ${p.source}\n\n| Quantity | Unit | Reference | Ours | Error | Ours, tight | Error, tight |\n|---|---|---|---|---|---|---|\n${lines.join('\n')}\n`;
  });
  return `## ${title}\n\n${rows.join('\n')}`;
});

writeFileSync(
  'docs/verification.md',
  `# Verification

<!-- written by \`npm run verify\`; do not edit by hand -->

${count} problems with a known answer, solved at the default accuracy (${DEFAULT}) and at a tight one (${TIGHT}). “Reference” and “ours” are the values at the end; the error is the
largest deviation over the whole run where a curve is compared, against the size of the motion. Answers of statics, modes and closed kinematics do not depend on the
accuracy asked. \`core/test/verification.test.ts\` runs all of them at 1e-3, 1e-5 and 1e-7 and fails when one is less accurate than asked.

${parts.join('\n')}`,
);
console.log(`${count} problems, ${failed} quantities less accurate than asked`);
if (failed > 0) process.exitCode = 1;
