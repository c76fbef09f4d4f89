/** Analyses as a user reaches them: degrees of freedom, equilibria, modes, ranges, kinds of run, starting from another run. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const posture = () => page.script<number[]>("return window.vimPivotPosture().split(' ').map(Number)");
const panel = () => page.text('section[aria-label="Motion"]');
const choose = (label: string, option: string | RegExp) => page.choose(label, option);
const settings = async (work: () => Promise<void>) => {
  await page.click('button', 'Run settings');
  await work();
  await page.click('button', 'Run settings');
};

it('plays the degrees of freedom of the machine in the scene', async () => {
  await page.click('button', /^Mobility 1/);
  await page.find('button', 'Find degrees of freedom');
  await page.click('button', 'Find degrees of freedom');
  await page.until('no free motion while driven', async () => (await panel()).includes('None.'));
  await (await page.driver.findElement(By.css('section[aria-label="Motion"] [role=checkbox]'))).click();
  await page.click('button', 'Find degrees of freedom');
  const item = await page.find('button', /^(Motor pin|Rail slide|.+) (turns|slides)$/);
  const before = await posture();
  await item.click();
  await page.until('the machine does not move', async () => (await posture()).some((x, i) => Math.abs(x - before[i]!) > 1e-3));
  await item.click();
  await page.until('the machine is not put back', async () => (await posture()).every((x, i) => Math.abs(x - before[i]!) < 1e-6));
});

it('finds equilibria with their stability, modes, and how far a joint goes', async () => {
  await page.click('button', 'Find equilibria');
  await page.until('equilibria', async () => /Equilibrium 1: (stable|unstable)/.test(await panel()), 20_000);
  await page.click('button', 'Find modes');
  await page.until('modes', async () => /Mode 1: [\d.]+ Hz/.test(await panel()));
  await choose('Range: joint', 'Rocker pin');
  await page.click('button', 'Follow range');
  await page.until('range', async () => /Upper end: .+ deg[\s\S]*dead centre/.test(await panel()));
});

const inSection = (name: string) => page.text(`section[aria-label="Motion"] section[aria-label="${name}"]`);
const press = async (name: string, text: RegExp) => {
  await page.script(`document.querySelector('section[aria-label="${name}"]').scrollIntoView()`);
  await page.click('button', text);
};

it('tells all of an equilibrium, and starts the machine there, in one undo step', async () => {
  await press('Equilibria', /^Equilibrium 1/);
  const said = await page.until('joints, stiffness and gauges', async () => {
    const text = await inSection('Equilibria');
    return /Joints[\s\S]+Motor pin[\s\S]+Stiffness[\s\S]+N·m\/rad[\s\S]+Gauges[\s\S]+Pusher travel/.test(text) && text;
  });
  const angle = Number(/Motor pin\s+([−-]?[\d.]+) deg/.exec(said)![1]!.replace('−', '-'));
  await page.click('button', 'Start here');
  await page.click('tab', /^Start values/);
  await page.until('the start value', async () => {
    const text = await page.script<string>("return [...document.querySelectorAll('tr[data-row] input')].map((x) => x.value).join('|')");
    return text.split('|').some((x) => Math.abs(parseFloat(x) - (angle * Math.PI) / 180) < 1e-3);
  });
  await page.click('button', 'Undo');
});

it('shows a mode as far as is asked', async () => {
  await page.click('button', 'Find modes');
  await page.until('modes', async () => /Mode 1: [\d.]+ Hz/.test(await panel()));
  await press('Modes', /^Mode 1/);
  const reach = async () => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = 0; i < 25; i++) {
      const x = (await posture())[0]!;
      [low, high] = [Math.min(low, x), Math.max(high, x)];
      await page.driver.sleep(60);
    }
    return high - low;
  };
  const half = await reach();
  const thumb = await page.driver.findElement(By.css('[role=slider][aria-label=Amplitude]'));
  await thumb.sendKeys(Key.HOME);
  const little = await reach();
  expect(little).toBeGreaterThan(0);
  expect(little).toBeLessThan(0.5 * half);
  await press('Modes', /^Mode 1/);
});

it('makes the linear system of the command line, with its response as charts, and runs of the machine itself beside it', async () => {
  const tick = async (list: string, name: string) => {
    const label = await page.driver.findElement(By.xpath(`//ul[@aria-label="${list}"]//label[.//span[text()="${name}"]]`));
    await page.script("arguments[0].scrollIntoView({ block: 'center' })", label);
    await label.click();
  };
  await page.click('button', 'Work out linear system');
  await page.until('what is missing is told', async () => (await inSection('Linear system')).includes('none is named'));
  // with its drive again
  await (await page.driver.findElement(By.css('section[aria-label="Motion"] [role=checkbox]'))).click();
  await page.until('the drive is a possible input', async () => (await inSection('Linear system')).includes('Motor'));
  await tick('Linear system: inputs', 'Motor');
  await tick('Linear system: outputs', 'Pusher travel');
  await page.type('Linear system: harmonic runs', '2');
  await page.type('Linear system: response from', '2 Hz');
  await page.type('Linear system: amplitude', '0.1 rad/s');
  await page.type('Linear system: response to', '8 Hz');
  const drawn = await page.until('charts with lines and marks', () =>
    page.script<number[][] | undefined>(`
      const plot = document.querySelector('section[aria-label="Linear system"] figure canvas')?.plot;
      const sets = plot?.data.datasets;
      return sets?.length === 2 && sets.map((d) => [d.data.length, d.data.at(-1).y, d.showLine === false ? 1 : 0]);`),
  );
  expect(drawn[0]![0]).toBeGreaterThan(10);
  expect(drawn[1]).toEqual([2, expect.closeTo(drawn[0]![1]!, 1) as number, 1]);
  expect(Math.abs(drawn[1]![1]! / drawn[0]![1]! - 1)).toBeLessThan(0.02);
  await page.click('button', 'Save linear as JSON');
  type Said = { A: number[][]; poles: object[]; response: object[]; harmonic: object[] };
  const saved = JSON.parse(readFileSync(await page.downloaded(/linear\.json$/), 'utf8')) as Said,
    line = spawnSync('node', [
      ...['cli/bin/pivot.mjs', 'linear', 'examples/sorting-gate.pivot.json', '--in', 'Motor', '--out', 'Pusher travel'],
      ...['--from', '2 Hz', '--to', '8 Hz', '--runs', '2', '--amplitude', '0.1 rad/s', '--json'],
    ]);
  expect(saved).toEqual(JSON.parse(String(line.stdout)));
  await page.click('button', 'Save linear as CSV');
  expect(readFileSync(await page.downloaded(/linear\.csv$/), 'utf8').split('\n')[0]).toContain('Pusher travel/Motor magnitude [mm per ');
  await page.click('button', 'Close Motion');
});

it('makes a kinematic run with the same result as the dynamic one', async () => {
  expect(await page.run()).toContain('done');
  const last = async () => {
    await page.script("document.querySelector('[role=slider]').focus()");
    return posture();
  };
  await last();
  await settings(() => choose('Analysis', /^Kinematic/));
  expect(await page.run()).toContain('(kinematic) done');
});

it('starts a run from the state shown of another', async () => {
  await settings(() => choose('Analysis', 'Dynamic'));
  await page.run();
  await page.click('button', 'Back to the start');
  await page.script("document.querySelector('[role=slider]').focus()");
  await page.click('button', 'Run settings');
  const box = await page.driver.findElement(By.css('label [role=checkbox]'));
  await box.click();
  await page.click('button', 'Run settings');
  expect(await page.run()).toContain('done');
});

it('computes a machine in its plane, says so of the run, and computes it in space where that is asked for', async () => {
  const details = async () => {
    const more = `More on run ${/Run (\d+)/.exec(await page.status())![1]!}`;
    await page.click('button', 'Readings');
    await page.click('button', more);
    const said = await page.until('what the solver did', async () => {
      const text = await page.script<string>(`return document.querySelector('[aria-label="${more}"]').closest('li').textContent`);
      return /\d+ evaluations, \d+ records/.test(text) && text;
    });
    await page.click('button', 'Build');
    return said;
  };
  expect(await details()).toContain('6 bodies computed in the plane');
  await settings(() => choose('Plane motion', 'all computed in space'));
  await page.run();
  expect(await details()).not.toContain('computed in the plane');
  await page.click('button', 'Undo');
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
