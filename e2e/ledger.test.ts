/** The Ledger as a table of a large model: virtual rows, sorting, blocks of cells to and from the clipboard, fill down, several rows at once. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
const ROWS = 5000;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  const file = join(mkdtempSync(join(tmpdir(), 'pivot-')), 'many.pivot.json');
  writeFileSync(
    file,
    JSON.stringify({
      format: 'vim-pivot-model',
      version: 1,
      name: 'Many points',
      points: Array.from({ length: ROWS }, (_, i) => ({ name: `P${i}`, at: [`${(i * 37) % ROWS} mm`, 0, 0] })),
    }),
  );
  await (await page.driver.findElement(By.css('input[type=file]'))).sendKeys(file);
  await page.until('the project', async () => (await page.text('header')).includes('Many points'));
  await page.click('tab', /^Points/);
  await page.until('rows', async () => (await names()).length > 5);
});
afterAll(() => page?.close());

const names = () => page.script<string[]>('return [...document.querySelectorAll("tr[data-row]")].map((r) => r.dataset.row)');
const cell = (label: string) => page.driver.findElement(By.css(`[aria-label="${label}"]`));
const value = async (label: string) => (await cell(label)).getAttribute('value');
const paste = (css: string, text: string) =>
  page.script(
    `
  const data = new DataTransfer(); data.setData('text/plain', arguments[1]);
  const e = document.querySelector(arguments[0]); e.focus();
  e.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
    css,
    text,
  );
const copied = (css: string) =>
  page.script<string>(
    `
  const data = new DataTransfer();
  document.querySelector(arguments[0]).dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }));
  return data.getData('text/plain');`,
    css,
  );

it('draws only the rows in sight of 5,000, at every step of scrolling through them', async () => {
  const { most, seen } = await page.driver.executeAsyncScript<{ most: number; seen: number }>(`
    const done = arguments[arguments.length - 1], box = document.querySelector('tr[data-row]').closest('div'), seen = new Set(); let i = 0, most = 0;
    const step = () => {
      const rows = [...document.querySelectorAll('tr[data-row]')];
      most = Math.max(most, rows.length);
      for (const r of rows) seen.add(r.dataset.row);
      box.scrollTop = (box.scrollHeight * i) / 40;
      if (++i > 41) done({ most, seen: seen.size }); else requestAnimationFrame(() => requestAnimationFrame(step));
    };
    step();`);
  expect(most).toBeLessThan(80);
  expect(seen).toBeGreaterThan(100); // more than were ever there at once: it did go through them
});

it('sorts by a column, both ways and back', async () => {
  const head = async () => (await names())[0];
  await page.script("document.querySelector('tr[data-row]').closest('div').scrollTop = 0");
  await page.until(
    'editors at rest',
    async () => (await page.driver.findElements(By.css('[aria-label="Coordinates x of P0"]'))).length > 0,
  );
  await page.click('button', 'Coordinates x');
  await page.until('ascending', async () => (await head()) === 'P0');
  await page.click('button', 'Coordinates x ↑');
  const last = `P${Array.from({ length: ROWS }, (_, i) => i).find((i) => (i * 37) % ROWS === ROWS - 1)!}`;
  await page.until('descending', async () => (await head()) === last);
  await page.click('button', 'Coordinates x ↓');
  await page.until('as in the file', async () => (await head()) === 'P0');
});

it('pastes a block of cells from a spreadsheet as one undo step', async () => {
  await paste('[aria-label="Coordinates x of P0"]', '11\t12\n21\t22\n');
  await page.until('the block', async () => (await value('Coordinates y of P1')) === '22 mm');
  expect([await value('Coordinates x of P0'), await value('Coordinates y of P0'), await value('Coordinates x of P1')]).toEqual([
    '11 mm',
    '12 mm',
    '21 mm',
  ]);
  await page.click('button', 'Undo');
  await page.until('undone', async () => (await value('Coordinates y of P1')) === '0');
});

it('copies rows and pastes them as new ones', async () => {
  await (await page.driver.findElement(By.css('tr[data-row="P2"] td:first-child'))).click();
  const text = await copied('tr[data-row="P2"]');
  expect(text.split('\n')[0]).toContain('Name\tIn\tCoordinates x');
  await paste('tr[data-row="P2"]', text);
  await page.until('one row more', async () => (await page.text('[role=tablist]')).includes(String(ROWS + 1)));
  await page.click('button', 'Undo');
});

it('writes into all rows picked, and fills down', async () => {
  const row = (n: string) => page.driver.findElement(By.css(`tr[data-row="${n}"] td:last-child`));
  const pick = async (list: string[]) => {
    for (const [i, n] of list.entries()) {
      const a = page.driver.actions();
      if (i > 0) a.keyDown(Key.CONTROL);
      a.move({ origin: await page.driver.findElement(By.css(`tr[data-row="${n}"] button`)), x: -12 }).click();
      if (i > 0) a.keyUp(Key.CONTROL);
      await a.perform();
    }
  };
  void row;
  await pick(['P1', 'P2', 'P3']);
  const z = await cell('Coordinates z of P3');
  await z.click();
  await z.sendKeys(Key.chord(Key.CONTROL, 'a'), '7 mm', Key.ENTER);
  await page.until(
    'all three',
    async () => (await value('Coordinates z of P1')) === '7 mm' && (await value('Coordinates z of P2')) === '7 mm',
  );
  await page.click('button', 'Undo');
  await page.until('undone at once', async () => (await value('Coordinates z of P1')) === '0');
  await pick(['P4']);
  const x = await cell('Coordinates x of P4');
  await x.click();
  await x.sendKeys(Key.chord(Key.CONTROL, 'd'));
  await page.until('filled', async () => (await value('Coordinates x of P5')) === (await value('Coordinates x of P4')));
});
