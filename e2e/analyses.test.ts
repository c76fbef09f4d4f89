/** Analyses as a user reaches them: degrees of freedom, equilibria, modes, ranges, kinds of run, starting from another run. */
import { By } from 'selenium-webdriver';
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
  await choose('Joint to follow', 'Rocker pin');
  await page.click('button', 'Follow range');
  await page.until('range', async () => /Upper end: .+ deg[\s\S]*dead centre/.test(await panel()));
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
