/** Runs every part of the test suite, counts, and ends with one line: N passed, N failed. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const dir = mkdtempSync(join(tmpdir(), 'vim-pivot-test-'));
let passed = 0;
let failed = 0;

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
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
