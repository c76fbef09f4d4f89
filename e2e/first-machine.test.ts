/** What a newcomer does with the first machine, through the real interface. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, Key, Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
});
afterAll(() => page?.close());

const tracks = () => page.text('output[aria-label="Time shown"]');
const seconds = async () => Number.parseFloat(await tracks());
/** Seconds of motion per second on the clock, measured in the page. */
/**
 * Seconds of motion a second while it plays, from one time shown to another; pressed and measured in one go, so that a busy machine does not play it
 * through meanwhile.
 */
const playing = () =>
  page.script<number>(`
  const out = document.querySelector('output[aria-label="Time shown"]'), read = () => parseFloat(out.textContent);
  let last = read(), first, s0 = last;
  document.querySelector('button[aria-label="Play"]').click();
  return new Promise((done) => {
    const look = () => {
      const t = performance.now() / 1000, s = read();
      if (s !== last) {
        last = s;
        if (first === undefined) [first, s0] = [t, s];
        else if (t - first > 0.25 || s >= 4) return done((s - s0) / (t - first));
      }
      requestAnimationFrame(look);
    };
    look();
  });`);
const charts = () => page.driver.findElements(By.css('article canvas'));

/** Whether a canvas shows anything but one flat colour. */
const drawn = (css: string) =>
  page.script<boolean>(
    `
  const c = document.querySelector(arguments[0]);
  const g = document.createElement('canvas'); g.width = 160; g.height = 100;
  const x = g.getContext('2d');
  return new Promise((done) => requestAnimationFrame(() => {
    x.drawImage(c, 0, 0, 160, 100);
    const d = x.getImageData(0, 0, 160, 100).data; const seen = new Set();
    for (let i = 0; i < d.length; i += 4) if (d[i + 3] > 0) seen.add((d[i] >> 4) * 256 + (d[i + 1] >> 4) * 16 + (d[i + 2] >> 4));
    done(seen.size > 3);
  }));`,
    css,
  );

const gate = readFileSync('examples/sorting-gate.pivot.json', 'utf8');
/** The example with one thing spoilt. */
function faulty(from: string, to: string): string {
  if (!gate.includes(from)) throw new Error(`the example has no ${from}`);
  return gate.replace(from, to);
}

/** Drops a file onto the page as from a file manager. */
const drop = (name: string, text: string) =>
  page.script(
    `
  const data = new DataTransfer();
  data.items.add(new File([arguments[1]], arguments[0], { type: 'application/json' }));
  const at = document.querySelector('main');
  for (const type of ['dragover', 'drop']) at.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: data }));`,
    name,
    text,
  );

describe('the first machine', () => {
  it('opens on the sorting gate with all loops closed and says so', async () => {
    await page.find('button', 'Project Sorting gate');
    expect(await page.until('no mobility', () => page.text('[title^="Degrees of freedom left"]'))).toBe('Mobility 1 · driven by Motor');
    expect(await page.status()).toBe('Not run yet');
    await page.script('window.dispatchEvent(new Event("resize"))');
  });

  it('runs within a second, draws three curves and plays', async () => {
    const status = await page.run();
    expect(status).toMatch(/Run 1 done in \d/);
    await page.until('three curves', async () => (await charts()).length === 3);
    for (const name of ['Pusher travel', 'Crank torque', 'Rocker pin load']) await page.find('button', name);
    expect(await drawn('article canvas')).toBe(true);
    const warm = await page.run();
    expect(warm).toMatch(/Run 2 done/);
  });

  it('plays, pauses and scrubs at any speed', async () => {
    await page.click('button', 'Back to the start');
    expect(await seconds()).toBe(0);
    await page.click('button', '0.1×');
    const slow = await playing();
    expect(slow).toBeGreaterThan(0);
    await page.click('button', 'Pause');
    const stopped = await seconds();
    await page.driver.sleep(200);
    expect(await seconds()).toBe(stopped);
    const thumb = await page.find('slider', 'Time');
    await thumb.sendKeys(Key.END);
    expect(await seconds()).toBe(4);
    await thumb.sendKeys(Key.HOME);
    expect(await seconds()).toBe(0);
    await page.click('button', '4×');
    const fast = await playing();
    // forty times, less what a slow machine drops
    expect(fast / slow).toBeGreaterThan(10);
    await page.click('button', '1×');
    await page.until('it stops at the end', async () => (await seconds()) === 4 && (await page.find('button', 'Play', 500)));
  });

  it('a clicked chart puts the cursor and the readings there', async () => {
    const chart = (await charts())[0]!;
    await page.driver.actions().move({ origin: chart, x: 10, y: 0 }).click().perform();
    const t = await page.until('the cursor has not moved', async () => (await seconds()) < 3.9 && seconds());
    expect(t).toBeGreaterThan(1.5);
    expect(t).toBeLessThan(3.2);
  });

  it('a changed parameter moves everything that depends on it at once, and undo takes it back', async () => {
    const posture = () => page.script<string>('return window.vimPivotPosture()');
    await page.click('button', 'Back to the start');
    const before = await posture();
    await page.type('Value of arm', '70');
    await page.until('the live value', async () => (await page.text('tr[data-row="coupler_length"]')).includes('220 mm'));
    const after = await page.until('the posture', async () => (await posture()) !== before && posture());
    await page.type('Value of rod_length', '2*arm + 10 mm');
    await page.until('the formula', async () => (await page.text('tr[data-row="rod_length"]')).includes('= 150 mm'));
    await page.click('button', 'Undo');
    await page.click('button', 'Undo');
    await page.until('the old posture', async () => (await posture()) === before);
    await page.click('button', 'Redo');
    await page.until('the new posture again', async () => (await posture()) === after);
  });

  it('keeps both runs and overlays the old one', async () => {
    expect(await page.run()).toMatch(/Run 3 done/);
    await page.click('button', 'Readings');
    await page.click('button', 'Overlay run 2');
    await page.until('the legend', async () => (await page.text('article[aria-label="Pusher travel"] header')).includes('Run 2'));
    await page.click('button', 'Build');
  });

  it('reads a gauge made after the run from its stored states at once', async () => {
    await page.click('tab', /^Gauges/);
    await page.click('button', 'Add gauge…');
    await page.click('menuitem', /^Point motion/);
    await (await page.find('combobox', 'Body of Point motion')).sendKeys('Pusher');
    await (await page.find('combobox', 'Point of Point motion')).sendKeys('Pusher middle');
    await page.click('button', 'Readings');
    await page.until('its curve', async () => (await page.text('article[aria-label="Point motion"] header')).includes('mm'));
    expect(await page.status()).toMatch(/Run 3 done/);
    await page.click('button', 'Build');
    await page.click('tab', /^Gauges/);
    const row = await page.driver.findElement(By.css('tr[data-row="Point motion"]'));
    await page.script('arguments[0].focus()', row);
    await row.sendKeys(Key.DELETE);
    await page.until('the row is gone', async () => (await page.driver.findElements(By.css('tr[data-row="Point motion"]'))).length === 0);
    await page.click('tab', /^Parameters/);
  });

  it('renames by F2 and every reference follows', async () => {
    const row = await page.driver.findElement(By.css('tr[data-row="arm"]'));
    await page.script('arguments[0].focus()', row);
    await row.sendKeys(Key.F2);
    await (await page.driver.switchTo().activeElement()).sendKeys(Key.chord(Key.CONTROL, 'a'), 'throw_arm', Key.ENTER);
    await page.until(
      'the reference',
      async () => (await (await page.find('textbox', 'Value of coupler_length')).getAttribute('value')) === '3*throw_arm + 10 mm',
    );
    await page.click('button', 'Undo');
    await page.until(
      'the old name',
      async () => (await (await page.find('textbox', 'Value of coupler_length')).getAttribute('value')) === '3*arm + 10 mm',
    );
  });

  it('marks a formula in error, keeps the last good value, and Run says why it cannot', async () => {
    await page.type('Value of coupler_length', '3*arm + 2 kg');
    const field = await page.find('textbox', 'Value of coupler_length');
    await page.until('the mark', async () => (await field.getAttribute('aria-invalid')) === 'true');
    expect(await page.text('tr[data-row="coupler_length"]')).toContain('220 mm stays in use');
    expect(await page.status()).toContain('Cannot run: coupler_length is in error');
    expect(await (await page.find('button', 'Run')).isEnabled()).toBe(false);
    expect(await (await page.find('button', 'Run')).getAttribute('title')).toContain('a length (m) and a mass (kg)');
    await page.click('button', 'Undo');
    await page.until('Run again', async () => (await page.find('button', 'Run', 500)).isEnabled());
  });

  it('a mechanism that cannot be assembled says which joint stays open and by how much', async () => {
    await page.type('Value of coupler_length', '900 mm');
    await page.until('the finding', async () =>
      /cannot be closed: its two sides stay [\d.]+ mm/.test(await page.text('[aria-label="Checks"]')),
    );
    await page.click('button', 'Undo');
  });

  it('after a reload all is still there', async () => {
    await page.until('saved', async () => (await page.text('header [role=status]')).includes('saved'));
    await page.driver.sleep(400);
    await page.driver.navigate().refresh();
    await page.until('the run', async () => /Run 3 done/.test(await page.status()));
    await page.until('the edit', async () => (await page.text('tr[data-row="coupler_length"]')).includes('220 mm'));
    await page.until('three curves', async () => (await charts()).length === 3);
    await page.click('button', 'Play');
    await page.until('time does not run', async () => (await seconds()) > 0.2);
  });

  it('exports the model and the curves, and the model file dropped in opens as another project', async () => {
    await page.click('button', 'Project Sorting gate');
    await page.click('menuitem', 'Export model');
    const model = readFileSync(await page.downloaded(/^sorting-gate\.pivot\.json$/), 'utf8');
    expect(model).toContain('"arm", "value": "70 mm"');
    await page.click('button', 'Project Sorting gate');
    await page.click('menuitem', /^Export curves as CSV/);
    const csv = readFileSync(await page.downloaded(/^sorting-gate\.csv$/), 'utf8');
    expect(csv.split('\n')[0]).toBe(
      'Time [s],Pusher travel [mm],Pusher speed [mm/s],Crank angle [deg],Crank torque [N·m],Crank power [W],Rocker pin load [N],Push rod load [N],Total energy [J]',
    );
    expect(csv.trim().split('\n').length).toBe(4002);

    // the command line, on the exported file, writes the very same numbers
    const file = join(page.downloads, 'exported.pivot.json');
    writeFileSync(file, model);
    const other = join(page.downloads, 'cli.csv');
    execFileSync('npx', ['pivot', 'run', file, '--until', '4 s', '--every', '1 ms', '--csv', other], { stdio: 'pipe' });
    expect(readFileSync(other, 'utf8') === csv).toBe(true);

    await drop('sorting-gate.pivot.json', model.replace('"name": "Sorting gate"', '"name": "Second gate"'));
    await page.find('button', 'Project Second gate');
    await page.until('assembled', async () => (await page.text('[title^="Degrees of freedom left"]')).startsWith('Mobility 1'));
    await page.click('button', 'Project Second gate');
    await page.click('menuitem', 'Sorting gate');
    await page.find('button', 'Project Sorting gate');
  });

  it.each([
    ['no model', '{"hello": 1}', 'not a model file'],
    ['an unknown version', '{"format":"vim-pivot-model","version":99,"name":"x"}', 'version 99'],
    [
      'a missing field',
      '{"format":"vim-pivot-model","version":1,"name":"x","joints":[{"name":"Pin","kind":"revolute","at":["A"]}]}',
      '$.joints[0].bodies',
    ],
    ['a missing reference', faulty('"to": "Crank pin"', '"to": "Nowhere"'), '$.shapes[0].to'],
    ['a cyclic formula', faulty('"arm", "value": "60 mm"', '"arm", "value": "coupler_length"'), 'refers back to itself'],
    ['a wrong dimension', faulty('"width": "24 mm"', '"width": "24 kg"'), 'Crank bar: This is a mass (kg); a length (m) is needed here.'],
    ['a negative mass', faulty('"name": "Crank", "origin"', '"name": "Crank", "mass": "-2 kg", "origin"'), '$.bodies[0].mass'],
    ['a value that is not a number', faulty('"value": "60 mm"', '"value": NaN'), 'not a model file'],
  ])('refuses %s with place and reason; what was open stays', async (_what, text, reason) => {
    await drop('bad.pivot.json', text);
    const dialog = await page.until('the refusal', async () => page.driver.findElement(By.css('[role=dialog]')));
    const words = await dialog.getText();
    expect(words).toContain('was not opened');
    expect(words).toContain(reason);
    await page.click('button', 'Close');
    await page.find('button', 'Project Sorting gate');
  });

  it('cancel stops a run and keeps what was computed', async () => {
    await page.type('End time', '9000 s');
    await page.click('button', 'Run');
    await page.until('progress', async () => /Run \d+ at [1-9]/.test(await page.status()));
    await page.click('button', 'Cancel');
    await page.until('the end', async () => /cancelled/.test(await page.status()));
    await (await page.find('slider', 'Time')).sendKeys(Key.END);
    expect(await seconds()).toBeGreaterThan(0.9);
    await page.click('button', 'Undo');
  });

  it('raises no complaint in the browser and obeys a policy without eval', async () => {
    const policy = (await fetch(await page.driver.getCurrentUrl())).headers.get('content-security-policy')!;
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toContain('unsafe-eval');
    expect(/script-src[^;]*unsafe-inline/.test(policy)).toBe(false);
    expect((await page.complaints()).filter((c) => !/WebGL/.test(c))).toEqual([]);
    // from the page's own turn: what the driver itself evaluates is exempt from the policy
    await page.script(
      'setTimeout(() => { try { new Function("return 1")(); window.__eval = "allowed"; } catch { window.__eval = "refused"; } }, 0)',
    );
    expect(await page.until('the attempt', () => page.script<string>('return window.__eval'))).toBe('refused');
  });
});
