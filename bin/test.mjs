/** Runs every part of the test suite, counts, and ends with one line: N passed, N failed. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const dir = mkdtempSync(join(tmpdir(), 'vim-pivot-test-'));
let passed = 0;
let failed = 0;
/** Tests with the time each took, ms. */
const times = [];

const sh = (command, args) => spawnSync(command, args, { stdio: 'inherit' }).status === 0;

/** A part that passes or fails as a whole. */
function whole(name, command, args) {
  console.log(`\n== ${name}`);
  if (sh(command, args)) passed++;
  else failed++;
}

/** A Vitest suite, counted test by test. */
function suite(name, args) {
  console.log(`\n== ${name}`);
  const file = join(dir, `${name.replaceAll(' ', '-')}.json`);
  const ok = sh('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${file}`, ...args]);
  try {
    const report = JSON.parse(readFileSync(file, 'utf8'));
    passed += report.numPassedTests;
    failed += report.numFailedTests;
    for (const file of report.testResults)
      for (const t of file.assertionResults)
        times.push({ ms: t.duration ?? 0, name: `${file.name.slice(process.cwd().length + 1)} > ${t.fullName}` });
    if (!ok && report.numFailedTests === 0) failed++;
  } catch {
    failed++;
  }
}

whole('lint', 'npm', ['run', '--silent', 'lint']);
whole('build', 'bin/build', []);
whole('types', 'npm', ['run', '--silent', 'types']);
suite('unit tests', []);
suite('browser tests', ['--config', 'e2e/vitest.config.ts']);
console.log('\n== the ten slowest tests');
for (const { ms, name } of times.sort((a, b) => b.ms - a.ms).slice(0, 10)) console.log(`${(ms / 1000).toFixed(1).padStart(7)} s  ${name}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
