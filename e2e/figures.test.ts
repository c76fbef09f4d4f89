/** What the page loads, draws and answers, counted in the browser. (Times are reported in bench/, not asserted.) */
import { request } from 'node:http';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { manyRockers } from '../bench/large';
import { Page } from './browser';
import { URL } from './server';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
});
afterAll(() => page?.close());

/** Bytes that the server sends for a script to a browser that takes Brotli. */
const sizeOf = (url: string) =>
  new Promise<number>((resolve, reject) => {
    const asked = request(url.replace(/^https?:\/\/[^/]+/, URL), { headers: { 'accept-encoding': 'gzip, deflate, br' } }, (answer) => {
      let size = 0;
      answer
        .on('data', (part: Buffer) => (size += part.length))
        .on('end', () => resolve(size))
        .on('error', reject);
    });
    asked.on('error', reject).end();
  });

it('JavaScript for the first screen is under 500 kB compressed', async () => {
  await page.find('button', 'Run');
  await page.until('the scene', async () => page.script<boolean>('return !!window.vimPivotFrames && window.vimPivotFrames() > 0'));
  const files = await page.script<[string, number][]>(
    `return performance.getEntriesByType('resource').map((e) => [e.name, e.encodedBodySize]).filter(([n]) => /\\.js(\\?|$)/.test(n))`,
  );
  // the browser does not tell the sizes of what a worker loads: those are asked for as it would
  let size = 0;
  for (const [name, sent] of new Map(files)) size += sent || (await sizeOf(name));
  // the software that draws here says that reading pixels takes time: no fault
  expect(
    (await page.driver.manage().logs().get('browser')).map((x) => x.message).filter((m) => !/GPU stall|software WebGL/.test(m)),
  ).toEqual([]);
  console.log(`first screen: ${files.length} scripts, ${(size / 1000).toFixed(0)} kB compressed`);
  expect(size).toBeLessThan(500_000);
});

it('answers keys while a run goes on', async () => {
  await page.type('End time', '9000 s');
  await page.click('button', 'Run');
  await page.until('progress', async () => /Run \d+ at [1-9]/.test(await page.status()));
  await page.click('tab', /^Parameters/);
  const field = await page.find('textbox', 'Value of arm');
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '2*coupler_length + 10 mm');
  expect(await field.getAttribute('value')).toBe('2*coupler_length + 10 mm');
  expect(await page.status()).toMatch(/Run \d+ at [1-9]/); // it goes on
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '60 mm', Key.TAB);
  await page.click('button', 'Cancel');
  await page.until('the end', async () => /cancelled/.test(await page.status()));
  await page.click('button', 'Undo');
});

it('draws a call for each material, not for each body', async () => {
  const calls = async (bodies: number) => {
    await page.script(
      `
      const file = new File([arguments[0]], 'rows.pivot.json', { type: 'application/json' }), data = new DataTransfer();
      data.items.add(file);
      document.querySelector('main').dispatchEvent(new DragEvent('drop', { bubbles: true, dataTransfer: data }));`,
      JSON.stringify({ ...manyRockers(bodies, 2 * bodies), name: `${bodies} rockers` }),
    );
    await page.find('button', `Project ${bodies} rockers`);
    await page.until(
      'drawn',
      async () => (await page.script<[number, number] | null>(`return window.vimPivotSpot('Rocker ${bodies - 1}') ?? null`)) !== null,
      20_000,
    );
    await page.script('window.vimPivotTurn(0.01, 0)');
    await page.driver.sleep(400);
    return page.script<number>('return window.vimPivotCalls()');
  };
  const few = await calls(5);
  expect(await calls(120)).toBeLessThanOrEqual(few);
  expect(few).toBeLessThanOrEqual(7);
});

it('draws nothing while nothing moves', async () => {
  await page.clickIf('button', 'Pause');
  await page.driver.sleep(300);
  const frames = () => page.script<number>('return window.vimPivotFrames()');
  const before = await frames();
  await page.driver.sleep(600);
  expect(await frames()).toBe(before);
});
