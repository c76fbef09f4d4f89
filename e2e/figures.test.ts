/** Figures of the first screen and of a run, measured in the browser. (Times of runs are reported in bench/, not asserted.) */
import { gzipSync } from 'node:zlib';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { manyRockers } from '../bench/large';
import { Page } from './browser';
import { URL } from './server';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
});
afterAll(() => page?.close());

it('JavaScript for the first screen is under 500 kB compressed', async () => {
  await page.find('button', 'Run');
  await page.until('the scene', async () => page.script<boolean>('return !!window.vimPivotFrames && window.vimPivotFrames() > 0'));
  const files = await page.script<string[]>(`return performance.getEntriesByType('resource').map((e) => e.name).filter((n) => /\\.js(\\?|$)/.test(n))`);
  let size = 0;
  for (const f of new Set(files)) size += gzipSync(Buffer.from(await (await fetch(f.replace(/^https?:\/\/[^/]+/, URL))).arrayBuffer())).length;
  // the software that draws here says that reading pixels takes time: no fault
  expect((await page.driver.manage().logs().get('browser')).map((x) => x.message).filter((m) => !/GPU stall|software WebGL/.test(m))).toEqual([]);
  console.log(`first screen: ${files.length} scripts, ${(size / 1000).toFixed(0)} kB compressed`);
  expect(size).toBeLessThan(500_000);
});

/** No task of the page takes over 50 ms of its thread; the time by the clock, which counts waiting for others, is printed beside it. */
const shortTasks = async (what: string, act: () => Promise<unknown>): Promise<void> => {
  const { clock, own } = await page.longestTask(act);
  console.log(`longest task ${what}: ${own.toFixed(0)} ms, ${clock.toFixed(0)} ms by the clock`);
  expect(own).toBeLessThan(50);
};

it('no task of the page takes over 50 ms while a run goes on', async () => {
  await page.run(); // the first run also compiles
  await shortTasks('of a run', () => page.run());
});

it('a task that does take long is seen', async () => {
  const { own } = await page.longestTask(() => page.script('const until = performance.now() + 200; while (performance.now() < until);'));
  expect(own).toBeGreaterThan(50);
});

it('no task of the page takes over 50 ms while a formula is typed in the Ledger, or a body is dragged', async () => {
  await page.click('button', 'Pause').catch(() => undefined);
  await page.click('button', 'Back to the start');
  await page.click('tab', /^Parameters/);
  const field = await page.find('textbox', 'Value of arm');
  await field.click();
  await field.sendKeys('1'); // what helps with formulas comes with the first key
  await shortTasks('while typing', async () => {
    // key by key, as fingers do: the driver would put several keys into one task
    for (const key of [Key.chord(Key.CONTROL, 'a'), ...'2*coupler_length + 10 mm']) {
      await field.sendKeys(key);
      await page.driver.sleep(20);
    }
    await page.driver.sleep(300);
  });
  await field.sendKeys(Key.ESCAPE, Key.ESCAPE);
  await page.type('Value of arm', '60.5 mm'); // an edit puts the scene at the model's own posture
  const canvas = await page.driver.findElement(By.css('canvas')), box = await canvas.getRect();
  await page.until('the model', async () => !(await page.text('[data-testid=scene]')).includes('Run'));
  const [x, y] = await page.script<[number, number]>("return window.vimPivotSpot('Rocker')");
  const at = { x: Math.round(x - box.width / 2), y: Math.round(y + 24 - box.height / 2) };
  await page.driver.actions().move({ origin: canvas, ...at }).click().perform();
  await page.driver.sleep(800);
  await shortTasks('while dragging a body', async () => {
    await page.driver.actions().move({ origin: canvas, ...at }).press().move({ origin: canvas, x: at.x + 20, y: at.y, duration: 300 }).move({ origin: canvas, x: at.x + 35, y: at.y, duration: 300 }).release().perform();
    await page.click('button', 'Spring back');
  });
});

it('draws a call for each material, not for each body', async () => {
  const calls = async (bodies: number) => {
    await page.script(`
      const file = new File([arguments[0]], 'rows.pivot.json', { type: 'application/json' }), data = new DataTransfer();
      data.items.add(file);
      document.querySelector('main').dispatchEvent(new DragEvent('drop', { bubbles: true, dataTransfer: data }));`, JSON.stringify({ ...manyRockers(bodies, 2 * bodies), name: `${bodies} rockers` }));
    await page.find('button', `Project ${bodies} rockers`);
    await page.until('drawn', async () => (await page.script<[number, number] | null>(`return window.vimPivotSpot('Rocker ${bodies - 1}') ?? null`)) !== null, 20_000);
    await page.script('window.vimPivotTurn(0.01, 0)');
    await page.driver.sleep(400);
    return page.script<number>('return window.vimPivotCalls()');
  };
  const few = await calls(5);
  expect(await calls(120)).toBeLessThanOrEqual(few);
  expect(few).toBeLessThanOrEqual(7);
});

it('draws nothing while nothing moves', async () => {
  await page.click('button', 'Pause').catch(() => undefined);
  await page.driver.sleep(300);
  const frames = () => page.script<number>('return window.vimPivotFrames()');
  const before = await frames();
  await page.driver.sleep(600);
  expect(await frames()).toBe(before);
});
