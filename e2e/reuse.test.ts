/** Copies of what is picked, mirrored and in a row, through the interface; they run. */
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  await page.until('assembled', async () => (await page.text('[title^="Degrees of freedom left"]')).startsWith('Mobility 1'));
});
afterAll(() => page?.close());

const count = async (family: string) =>
  Number(new RegExp(`${family} (\\d+)`).exec((await page.text('[role=tablist]')).replaceAll('\n', ' '))![1]);

it('mirrors the whole machine as one undo step, and both run', async () => {
  await page.click('tab', /^Bodies/);
  const rows = await page.driver.findElements(By.css('tr[data-row] td:nth-child(2)'));
  for (const [i, r] of rows.entries()) {
    const a = page.driver.actions();
    if (i > 0) a.keyDown(Key.CONTROL);
    a.move({ origin: r, x: -60 }).click();
    if (i > 0) a.keyUp(Key.CONTROL);
    await a.perform();
  }
  const n = Number(/^(\d+) picked/.exec(await page.text('section[aria-label=Card]'))?.[1] ?? 0);
  if (n < 6)
    await page.script(
      `for (const r of document.querySelectorAll('tr[data-row]')) r.dispatchEvent(new MouseEvent('click', { bubbles: true, ctrlKey: true }))`,
    );
  await page.until('six picked', async () => /^6 picked/.test(await page.text('section[aria-label=Card]')));
  await page.click('button', 'Copies…');
  await page.click('radio', 'Mirrored');
  await page.clickIf('radio', 'y');
  const plane = await page.driver.findElement(By.css('input[aria-label="Plane at"]'));
  await plane.sendKeys(Key.chord(Key.CONTROL, 'a'), '300 mm');
  await page.click('button', 'Make the mirrored copy');
  await page.until(
    'twice the bodies',
    async () => (await count('Bodies')) === 12 && (await count('Joints')) === 16 && (await count('Drives')) === 2,
  );
  await page.until('assembled', async () => (await page.text('[title^="Degrees of freedom left"]')).startsWith('Mobility 2'));
  expect(await page.run()).toContain('done');
  await page.click('button', 'Undo');
  await page.until('one undo step', async () => (await count('Bodies')) === 6);
});

it('a body is copied and pasted with its shapes and points by the keyboard', async () => {
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.click('tab', /^Bodies/);
  await page.script(`document.querySelector('tr[data-row="Crank"]').focus()`);
  await page.until(
    'the body',
    async () => (await page.driver.findElements(By.css('section[aria-label="Card"] input[aria-label="Name of Crank"]'))).length > 0,
  );
  await page.script('document.querySelector("canvas").focus()');
  await page.driver.actions().keyDown(Key.CONTROL).sendKeys('c').keyUp(Key.CONTROL).perform();
  await page.driver.sleep(400);
  await page.driver.actions().keyDown(Key.CONTROL).sendKeys('v').keyUp(Key.CONTROL).perform();
  await page.until('a body more', async () => (await count('Bodies')) === 7 && (await count('Shapes')) === 12);
  await page.click('button', 'Undo');
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});

it('a profile is drawn by hand: a corner moved by the keyboard, a new one put on a side', async () => {
  await page.click('tab', /^Shapes/);
  await page.click('button', 'Add shape…');
  await page.click('menuitem', /^Extruded profile/);
  await page.until(
    'the outline',
    async () => (await page.driver.findElements(By.css('g[aria-label="Outline, drawn"], svg[aria-label="Outline, drawn"]'))).length > 0,
  );
  const corner = await page.until('a corner', () => page.driver.findElement(By.css('circle[aria-label="Corner 2 at 30, -20 mm"]')));
  await page.script('arguments[0].focus()', corner);
  await page.driver.actions().sendKeys(Key.ARROW_RIGHT).perform();
  await page.until(
    'it moved by a step of the grid',
    async () =>
      (await page.driver.findElements(By.css('circle[aria-label^="Corner 2 at 32, -20"], circle[aria-label^="Corner 2 at 31, -20"]')))
        .length > 0,
  );
  const middle = (await page.driver.findElements(By.css('svg[aria-label="Outline, drawn"] circle.cursor-copy')))[0]!;
  await page.driver.actions().move({ origin: middle }).click().perform();
  await page.until(
    'five corners',
    async () => (await page.driver.findElements(By.css('svg[aria-label="Outline, drawn"] circle[role=button]'))).length === 5,
  );
  await page.click('button', 'Undo');
  await page.until(
    'four again',
    async () => (await page.driver.findElements(By.css('svg[aria-label="Outline, drawn"] circle[role=button]'))).length === 4,
  );
});
