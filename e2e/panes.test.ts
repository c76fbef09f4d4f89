/** Panes: resized, folded and made large, by mouse and key; remembered; and what stands beside what where there is room. */
import { By, Key, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  // dividers are too thin for a coarser screen
  page = await Page.open(undefined, undefined, undefined, 1);
  await page.run();
});
afterAll(() => page?.close());

const divider = (of: string) => page.driver.findElement(By.css(`[role=separator][aria-label="Size of ${of}"]`));
const rect = (css: string) =>
  page.script<{ x: number; y: number; width: number; height: number }>(
    `return document.querySelector(arguments[0]).getBoundingClientRect().toJSON()`,
    css,
  );
const ledger = async () => (await rect('#ledger')).height;
const drag = async (what: WebElement, x: number, y: number) =>
  page.driver
    .actions()
    .move({ origin: what })
    .press()
    .move({ origin: what, x: x / 2, y: y / 2 })
    .move({ origin: what, x, y })
    .release()
    .perform();
const card = () => page.text('section[aria-label="Card"]');
const pick = async (body: string) => {
  await page.click('tab', /^Bodies/);
  await (await page.driver.findElement(By.css(`tr[data-row="${body}"] td:nth-child(2)`))).click();
};

describe('the Ledger', () => {
  it('is dragged higher, keeps its height after a reload, and the scene gives the room', async () => {
    const before = await ledger(),
      scene = (await rect('canvas')).height;
    await drag(await divider('the Ledger'), 0, -120);
    const after = await ledger();
    expect(after).toBeGreaterThan(before + 100);
    await page.until('a lower scene', async () => (await rect('canvas')).height < scene - 100);
    await page.driver.sleep(300);
    await page.driver.navigate().refresh();
    await page.find('button', 'Run');
    await page.until('as high as it was', async () => Math.abs((await ledger()) - after) < 3);
  });
  it('folds by Enter and by a double click, and is opened again by the mouse', async () => {
    const height = await ledger();
    await page.script('arguments[0].focus()', await divider('the Ledger'));
    await page.driver.actions().sendKeys(Key.ENTER).perform();
    await page.until('folded', async () => (await ledger()) < 1);
    await (await page.driver.findElement(By.css('[data-fold="the Ledger"]'))).click();
    await page.until('open', async () => Math.abs((await ledger()) - height) < 3);
    await page.driver
      .actions()
      .doubleClick(await divider('the Ledger'))
      .perform();
    await page.until('folded', async () => (await ledger()) < 1);
    await page.driver
      .actions()
      .doubleClick(await divider('the Ledger'))
      .perform();
    await page.until('open', async () => (await ledger()) > 100);
  });
  it('is made large and moved by keys', async () => {
    await page.driver
      .actions()
      .move({ origin: await divider('the Ledger') })
      .perform();
    await (await page.driver.findElement(By.css('[data-enlarge="the Ledger"]'))).click();
    const large = await ledger();
    expect(large).toBeGreaterThan(400);
    await page.script('arguments[0].focus()', await divider('the Ledger'));
    for (let i = 0; i < 3; i++) await page.driver.actions().sendKeys(Key.ARROW_DOWN).perform();
    await page.until('lower', async () => (await ledger()) < large - 20);
  });
});

describe('columns of the Ledger', () => {
  const width = (label: string) =>
    page.script<number>(
      `return document.querySelector('[aria-label="Width of ' + arguments[0] + '"]').closest('th').getBoundingClientRect().width`,
      label,
    );
  const heads = async () =>
    (await page.text('[aria-label=Ledger] thead'))
      .split(/\n|\t/)
      .map((t) => t.trim())
      .filter(Boolean);
  const picked = () =>
    page.script<string[]>(`return [...document.querySelectorAll('tr[data-row][aria-selected=true]')].map((r) => r.dataset.row)`);
  it('are dragged wider, by keys too, hidden, and are so after a reload', async () => {
    await page.click('tab', /^Points/);
    const edge = () => page.driver.findElement(By.css('[aria-label="Width of Coordinates x"]'));
    const before = await width('Coordinates x');
    await drag(await edge(), 70, 0);
    await page.until('wider', async () => (await width('Coordinates x')) > before + 55);
    await page.script('arguments[0].focus()', await edge());
    const dragged = await width('Coordinates x');
    await page.driver.actions().sendKeys(Key.ARROW_LEFT).perform();
    await page.until('a step narrower', async () => (await width('Coordinates x')) < dragged - 8);
    const narrower = await width('Coordinates x');
    expect(await heads()).toContain('Note');
    await page.click('button', 'Columns');
    await page.click('menuitemcheckbox', 'Note');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.until('no notes', async () => !(await heads()).includes('Note'));
    await page.driver.navigate().refresh();
    await page.find('button', 'Run');
    await page.click('tab', /^Points/);
    await page.until('as it was', async () => Math.abs((await width('Coordinates x')) - narrower) < 2 && !(await heads()).includes('Note'));
    await page.menu('Columns', /^All, as wide/);
    await page.until('all again', async () => (await heads()).includes('Note') && Math.abs((await width('Coordinates x')) - narrower) > 5);
  });
  it('sort by what counts, down and up; Shift takes all rows between', async () => {
    await page.click('tab', /^Parameters/);
    const names = () => page.script<string[]>(`return [...document.querySelectorAll('tr[data-row]')].map((r) => r.dataset.row)`);
    const first = await names();
    await page.click('button', /^Value/);
    const up = await names();
    expect(up).not.toEqual(first);
    expect(up.indexOf('arm')).toBeLessThan(up.indexOf('rocker_length')); // 60 mm, 150 mm
    await page.click('button', /^Value/);
    expect((await names()).indexOf('arm')).toBeGreaterThan((await names()).indexOf('rocker_length'));
    await page.click('button', /^Value/);
    expect(await names()).toEqual(first);
    const row = (n: string) => page.driver.findElement(By.css(`tr[data-row="${n}"]`));
    await page.script('arguments[0].dispatchEvent(new MouseEvent("mousedown", { bubbles: true }))', await row(first[1]!));
    await page.script('arguments[0].dispatchEvent(new MouseEvent("mousedown", { bubbles: true, shiftKey: true }))', await row(first[4]!));
    expect(await picked()).toEqual(first.slice(1, 5));
  });
});

describe('beside the machine', () => {
  it('the Card has the room it is given, and the curves stand beside it where there is room for both', async () => {
    await pick('Rocker');
    expect((await page.driver.findElements(By.css('section[aria-label=Curves]'))).length).toBe(0);
    await drag(await divider('the Card'), -330, 0);
    await page.until(
      'both',
      async () =>
        (await page.driver.findElements(By.css('section[aria-label=Curves] article'))).length > 0 && (await card()).includes('Rocker'),
    );
    await drag(await divider('the Card'), 330, 0);
    await page.until('the Card alone', async () => (await page.driver.findElements(By.css('section[aria-label=Curves]'))).length === 0);
  });
  it('Motion does not hide the Card without a sign: either is one press away', async () => {
    await page.click('button', /^Mobility/);
    await page.until('Motion', async () => (await page.text('section[aria-label="Motion"]')).includes('Degrees of freedom'));
    await page.find('radio', 'Card: Rocker');
    await page.click('radio', 'Card: Rocker');
    expect(await card()).toContain('Rocker');
    await page.click('radio', 'Motion');
    await page.until('Motion', async () => (await page.driver.findElements(By.css('section[aria-label="Motion"]'))).length > 0);
    // what is picked next comes to the front
    await pick('Crank');
    await page.until('its Card', async () => (await card()).includes('Crank'));
    await page.click('radio', 'Motion');
    await page.click('button', 'Close Motion');
    await page.until('the Card', async () => (await card()).includes('Crank'));
  });
});

describe('while one reads', () => {
  it('gauges and machine give room to the charts, which then stand side by side', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('button', 'Readings');
    await page.until('charts', async () => (await page.driver.findElements(By.css('[aria-label=Charts] article'))).length === 8);
    const lefts = () =>
      page.script<number>(
        `return new Set([...document.querySelectorAll('[aria-label=Charts] article')].map((a) => Math.round(a.getBoundingClientRect().x))).size`,
      );
    expect(await lefts()).toBe(1);
    await page.driver
      .actions()
      .doubleClick(await divider('the moving machine'))
      .perform();
    await page.until('two columns', async () => (await lefts()) === 2);
    await page.driver
      .actions()
      .doubleClick(await divider('the moving machine'))
      .perform();
    await page.until('one column', async () => (await lefts()) === 1);
    const before = (await rect('#gauges')).width;
    await drag(await divider('the gauges and runs'), 60, 0);
    await page.until('wider', async () => (await rect('#gauges')).width > before + 50);
  });
  it('a page of workings has its Card resized', async () => {
    await page.click('button', 'Workings');
    await page.click('button', 'Add a working');
    const before = (await rect('#card')).width;
    await drag(await divider('the Card'), -80, 0);
    expect((await rect('#card')).width).toBeGreaterThan(before + 60);
  });
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
