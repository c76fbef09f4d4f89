/** Drives as timelines: segments drawn by their ends, values that hold, copies to other drives. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, Key, Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  await page.click('tab', /^Drives/);
  await page.click('button', 'Timeline');
  await page.find('button', 'Menu of the timeline of Motor');
});
afterAll(() => page?.close());

const line = async (drive = 'Motor') => {
  await page.driver.findElement(By.css(`[data-track="${drive}"] button[title]`)).click();
  return String(await page.until('the formula on the Card', async () => (await page.find('textbox', 'Formula')).getAttribute('value')));
};
const grip = (name: string) => page.find('slider', name);
const value = async (name: string) => Number(await (await grip(name)).getAttribute('aria-valuenow'));

describe('the timeline of a drive', () => {
  it('is read from its formula, parameters and all', async () => {
    expect(await line()).toBe('gate_speed * smoothstep(0 s, 0.4 s, t)');
    expect(await value('End of segment 1 of Motor')).toBeCloseTo(0.4, 6);
    expect(await value('Value 2 of Motor')).toBeCloseTo(90, 4);
  });
  it('an end is dragged, as one undo step; the formula follows and keeps its parameter', async () => {
    const end = await grip('End of segment 1 of Motor');
    await page.driver
      .actions({ async: true })
      .move({ origin: end })
      .press()
      .move({ origin: end, x: 60, y: 0, duration: 120 })
      .move({ origin: end, x: 120, y: 0, duration: 120 })
      .release()
      .perform();
    const now = await page.until('a later end', async () =>
      (await value('End of segment 1 of Motor')) > 0.6 ? value('End of segment 1 of Motor') : undefined,
    );
    expect(await line()).toBe(`gate_speed*smoothstep(0 s, ${now} s, t)`);
    await page.click('button', 'Undo');
    await page.until('its old end', async () => Math.abs((await value('End of segment 1 of Motor')) - 0.4) < 1e-9);
  });
  it('by keys and by numbers as well, in other shapes, and a segment more', async () => {
    await (await grip('End of segment 1 of Motor')).sendKeys(Key.ARROW_RIGHT);
    await page.until('one step on', async () => (await value('End of segment 1 of Motor')) > 0.4);
    await page.type('To', '500 ms');
    await page.until('as typed', async () => Math.abs((await value('End of segment 1 of Motor')) - 0.5) < 1e-9);
    await page.click('radio', 'ramp');
    await page.until('a ramp', async () => (await line()) === 'gate_speed*linearstep(0 s, 0.5 s, t)');
    await page.menu('Menu of the timeline of Motor', /^Add a segment/);
    await grip('End of segment 2 of Motor');
    await page.until('back to rest', async () => (await value('Value 3 of Motor')) === 0);
    await page.menu('Menu of the timeline of Motor', /^Repeat/);
    await page.until('anew and anew', async () => /mod\(t, [\d.]+ s\)/.test(await line()));
  });
  it('goes to another drive, mirrored', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('button', 'Add drive');
    // a new drive first needs its joint
    await page.choose('Joint', 'Rocker pin');
    await page.menu('Menu of the timeline of Motor', /^Mirror to Drive/);
    await page.until('the other way', async () => /^-gate_speed\*linearstep\(0 s, 0.5 s, mod/.test(await line('Drive')));
  });
});

it('a new table is straight between its rows, as a ramp is; monotone and smooth are offered, with the picture', async () => {
  await page.click('tab', /^Tables/);
  await page.click('button', 'Add table');
  const between = await page.find('combobox', 'Between');
  expect(await between.getText()).toBe('straight lines');
  const rows = await page.driver.findElement(By.css('section[aria-label=Card] textarea[aria-label=Rows]'));
  await rows.sendKeys('0 0\n1 10\n2 10', Key.TAB);
  const picture = () =>
    page.script<string>(`return document.querySelector('section[aria-label=Card] figure polyline')?.getAttribute('points') ?? ''`);
  const straight = await page.until('the picture', picture);
  await between.sendKeys('smooth');
  await page.until('another course', async () => (await picture()) !== straight);
});
