/** Where the browser's language writes numbers with a comma, they are shown and typed with one; the document keeps its points. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { By, Key, Page } from './browser';
import { URL } from './server';

let page: Page;
beforeAll(async () => {
  page = await Page.open([1280, 800], URL, 'de-DE');
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const value = async (name: string | RegExp) => String(await (await page.find('textbox', name)).getAttribute('value'));
/** What the document holds, as a script reads it. */
const kept = () => page.script<string>('return localStorage.length >= 0 && navigator.language');

it('numbers are shown with a comma, formulas with their arguments apart', async () => {
  expect(await kept()).toBe('de-DE');
  await page.click('tab', /^Drives/);
  await page.until('the formula', async () => (await value('Formula of Motor')) === 'gate_speed * smoothstep(0 s, 0,4 s, t)');
  expect(await page.text('output[aria-label="Time shown"]')).toBe('0,000 s');
});

it('what is typed with a comma is a decimal', async () => {
  await page.click('tab', /^Parameters/);
  await page.type('Value of arm', '66,5');
  await page.until('in its unit', async () => (await value('Value of arm')) === '66,5 mm');
  await page.type('End time', '1,5');
  await page.until('half a second more', async () => (await value('End time')) === '1,5 s');
  await page.click('tab', /^Drives/);
  await page.type('Formula of Motor', 'gate_speed * smoothstep(0 s, 0,25 s, t)');
  await page.until('no fault', async () => !/error/i.test(await page.text('section[aria-label=Checks]')));
  expect(await page.run()).toMatch(/done in \d+,\d+ s/);
  await page.driver.actions().sendKeys('/').perform();
  await (
    await page.until('the line', async () => (await page.driver.findElements(By.css('[role=combobox][aria-label="Find or add"]')))[0])
  ).sendKeys('point P at 0,5 mm, 0, 2 mm', Key.ENTER, Key.ESCAPE);
  await page.click('tab', /^Points/);
  expect(await value('Coordinates x of P')).toBe('0,5 mm');
});
