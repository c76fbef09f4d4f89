/** Runs every part of the test suite, counts, and ends with one line: N passed, N failed. */
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';

const dir = mkdtempSync(join(tmpdir(), 'vim-pivot-test-'));
let passed = 0;
let failed = 0;
/** Tests with the time each took, ms. */
const times = [];

/** A command that passes or fails as a whole; what it says is printed when it ends. */
const whole = (name, command) =>
  new Promise((resolve) => {
    let said = '';
    const take = (piece) => (said += piece);
    const child = spawn('bash', ['-c', command], { env: { ...process.env, PATH: `node_modules/.bin:${process.env.PATH}` } });
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.on('close', (code) => {
      if (code === 0) passed++;
      else failed++;
      console.log(`== ${name}: ${code === 0 ? 'passed' : 'failed'}\n${said}`);
      resolve();
    });
  });

/** Commands of scripts of package.json, as many at a time as there are processors. @param first is done before the last of them begins */
async function sideBySide(first, names) {
  const { scripts } = JSON.parse(readFileSync('package.json', 'utf8'));
  const rest = names.flatMap((name) => scripts[name].split(' && ').map((command) => ({ name: `${name}: ${command}`, command })));
  const built = whole(first.name, first.command);
  const lane = async () => {
    for (let next = rest.shift(); next; next = rest.shift()) {
      // types of pages are written by the build
      if (next.command.includes('web')) await built;
      await whole(next.name, next.command);
    }
  };
  await Promise.all([built.then(lane), ...Array.from({ length: Math.max(1, availableParallelism() - 1) }, lane)]);
}

/** A Vitest suite, counted test by test. */
function suite(name, args) {
  console.log(`\n== ${name}`);
  const file = join(dir, `${name.replaceAll(' ', '-')}.json`);
  const ok =
    spawnSync('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${file}`, ...args], { stdio: 'inherit' })
      .status === 0;
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

await sideBySide({ name: 'build', command: 'bin/build' }, ['lint', 'types']);
suite('unit tests', []);
suite('browser tests', ['--config', 'e2e/vitest.config.ts']);
console.log('\n== the ten slowest tests');
for (const { ms, name } of times.sort((a, b) => b.ms - a.ms).slice(0, 10)) console.log(`${(ms / 1000).toFixed(1).padStart(7)} s  ${name}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed === 0 ? 0 : 1;
