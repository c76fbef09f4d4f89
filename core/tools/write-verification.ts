/** Solves every verification problem and writes docs/verification.md. Usage: npm run verify */
import { writeFileSync } from 'node:fs';
import { FAMILIES_OF_PROBLEMS } from '../test/verification';
import { type Compared, allowed, error } from '../test/verification/problem';

const DEFAULT = 1e-6,
  TIGHT = 1e-9;
/** Accuracies over which the errors of the suite must fall. */
const SWEEP = [1e-3, 1e-4, 1e-5, 1e-6, 1e-7, 1e-8, 1e-9, 1e-10];
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
      if (!(e < allowed(p, DEFAULT)) || !(error(tight[k]!) < allowed(p, TIGHT))) failed++;
      return `| ${c.quantity} | ${c.unit || '–'} | ${number(c.reference)} | ${number(c.ours)} | ${small(e)} | ${p.exact === undefined ? `${number(tight[k]!.ours)} | ${small(error(tight[k]!))}` : 'the same | the same'} |`;
    });
    console.log(`${p.title}: ${usual.map((c) => small(error(c))).join(', ')}`);
    return `### ${count}. ${p.title}\n\nSource: ${p.source}\n\n| Quantity | Unit | Reference | Ours | Error | Ours, tight | Error, tight |\n|---|---|---|---|---|---|---|\n${lines.join('\n')}\n`;
  });
  return `## ${title}\n\n${rows.join('\n')}`;
});

/** Over all problems whose answer depends on the accuracy: quantities less accurate than asked, and the mean of the errors (of their logarithms). */
const swept = SWEEP.map((accuracy) => {
  const errors: number[] = [];
  let beyond = 0;
  for (const p of FAMILIES_OF_PROBLEMS.flatMap((f) => f.problems))
    if (p.exact === undefined)
      for (const c of p.solve(accuracy)) {
        const e = error(c);
        if (!(e < allowed(p, accuracy))) beyond++;
        // what is nothing but rounding says nothing of the accuracy
        if (p.floor === undefined) errors.push(Math.max(e, 1e-13));
      }
  failed += beyond;
  const mean = Math.exp(errors.reduce((s, x) => s + Math.log(x), 0) / errors.length);
  console.log(`asked ${accuracy}: mean error ${small(mean)}, largest ${small(Math.max(...errors))}, ${beyond} less accurate than asked`);
  return { accuracy, mean, largest: Math.max(...errors), beyond };
});
swept.forEach(({ largest }, i) => {
  if (i > 0 && largest > swept[i - 1]!.largest) failed++;
});

writeFileSync(
  'docs/verification.md',
  `# Verification

<!-- written by \`npm run verify\`; do not edit by hand -->

${count} problems with a known answer, solved at the default accuracy (${DEFAULT}) and at a tight one (${TIGHT}). “Reference” and “ours” are the values at the end; the error is the
largest deviation over the whole run where a curve is compared, against the size of the motion. Answers of statics, modes and closed kinematics do not depend on the
accuracy asked. \`core/test/verification.test.ts\` runs all of them at 1e-3, 1e-5, 1e-7 and 1e-9 and fails when one is less accurate than asked;
\`core/test/accuracy.test.ts\` does the same with smooth spatial machines that were not used to set the tolerance of a step.

| Asked | Largest error of all | Mean error | Quantities less accurate than asked |
|---|---|---|---|
${swept.map((s) => `| ${s.accuracy.toExponential(0)} | ${small(s.largest)} | ${small(s.mean)} | ${s.beyond} |`).join('\n')}

${parts.join('\n')}`,
);
console.log(`${count} problems, ${failed} quantities less accurate than asked`);
if (failed > 0) process.exitCode = 1;
