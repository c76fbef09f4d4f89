/** Figures of the first screen and of a run, measured in the browser. (Times of runs are reported in bench/, not asserted.) */
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, it } from 'vitest';
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
  console.log(`first screen: ${files.length} scripts, ${(size / 1000).toFixed(0)} kB compressed`);
  expect(size).toBeLessThan(500_000);
});

it('no task of the page takes over 50 ms while a run goes on', async () => {
  await page.run(); // the first run also compiles
  await page.script(`window.__long = []; new PerformanceObserver((l) => window.__long.push(...l.getEntries().map((e) => e.duration))).observe({ type: 'longtask' });`);
  // The clock also counts time in which the system gave the page no processor, so the quietest of three runs is what the page itself takes.
  const seen: number[][] = [];
  for (let i = 0; i < 3; i++) {
    await page.driver.sleep(700);
    await page.script('window.__long.length = 0');
    await page.run();
    seen.push(await page.script<number[]>('return window.__long.slice()'));
  }
  console.log('tasks over 50 ms in three runs:', JSON.stringify(seen), await page.status());
  expect(Math.min(...seen.map((x) => x.length))).toBe(0);
});

it('draws nothing while nothing moves', async () => {
  await page.click('button', 'Pause').catch(() => undefined);
  await page.driver.sleep(300);
  const frames = () => page.script<number>('return window.vimPivotFrames()');
  const before = await frames();
  await page.driver.sleep(600);
  expect(await frames()).toBe(before);
});
