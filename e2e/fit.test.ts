/** Modes fitted to curves: of a file that was measured, and of a run. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { By, Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.run();
  await page.click('button', 'Readings');
  await page.click('button', 'Fit modes…');
});
afterAll(() => page?.close());

const table = () => page.text('table[aria-label="Modes found"]');

it('two channels of a measured decay share their modes', async () => {
  const rows = Array.from({ length: 1501 }, (_, i) => {
    const t = i / 500,
      one = Math.exp(-0.02 * 2 * Math.PI * 4 * t) * Math.cos(2 * Math.PI * 4 * t),
      two = Math.exp(-0.01 * 2 * Math.PI * 11 * t) * Math.cos(2 * Math.PI * 11 * t);
    return `${t},${1 + 3 * one + two},${-one + 2 * two}`;
  });
  const file = join(page.downloads, 'tip.csv');
  writeFileSync(file, `Time [s],Tip [mm],Root [mm]\n${rows.join('\n')}\n`);
  await (await page.until('the dialog', () => page.driver.findElement(By.css('input[aria-label="File of curves"]')))).sendKeys(file);
  const box = await page.until(
    'its curves',
    async () =>
      (await page.driver.findElements(By.xpath('//ul[@aria-label="Curves to fit"]//label[contains(., "Root")]//*[@role="checkbox"]')))[0],
  );
  await box.click();
  await page.type('Order', '4');
  await page.click('button', 'Fit modes');
  const found = await page.until('modes', table);
  // |λ|/2π of a decay given by its swing: f √(1 + (rate/ω)²)
  expect([...found.matchAll(/([\d.]+) Hz/g)].map((m) => Number(m[1])).sort((a, b) => a - b)).toEqual([
    expect.closeTo(4 * Math.hypot(1, 0.02), 3),
    expect.closeTo(11 * Math.hypot(1, 0.01), 3),
  ]);
  expect(found).toMatch(/100\.00 %\s+100\.00 %/);
});

it('a run is fitted as well, and what cannot be fitted is said', async () => {
  await page.click('button', 'Back to the run');
  await page.type('Order', '99');
  await page.click('button', 'Fit modes');
  await page.until('words', async () => /order is a whole number/.test(await page.text('[role=dialog]')));
  await page.type('Order', '6');
  await page.click('button', 'Fit modes');
  await page.until('modes', async () => /explains/.test(await table()));
});
