/** Scripts in their sandbox: they build and run models as one undo step, and cannot hang, eat memory or reach out. */
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  await page.click('button', 'Project Sorting gate');
  await page.click('menuitem', 'Scripts…');
  await page.until('the editor', async () => (await page.driver.findElements(By.css('.cm-content'))).length > 0);
});
afterAll(() => page?.close());

const write = async (text: string) => {
  const editor = await page.driver.findElement(By.css('.cm-content'));
  await editor.click();
  await page.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).sendKeys(Key.DELETE).perform();
  // typed as one paste, so that the editor closes no brackets of its own
  await page.script(
    `
    const data = new DataTransfer(); data.setData('text/plain', arguments[0]);
    document.querySelector('.cm-content').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
    text,
  );
};
const said = async (text: string, timeout = 20_000): Promise<string> => {
  await write(text);
  await page.click('button', 'Run script');
  return page.until(
    'its outcome',
    async () =>
      (await page.driver.findElements(By.css('[role=dialog] [role=status]'))).length > 0 && page.text('[role=dialog] [role=status]'),
    timeout,
  );
};
const log = () => page.text('pre[aria-label=Log]');

it('builds and runs: what it did is one undo step', async () => {
  expect(
    await said(`
    for (let i = 0; i < 3; i++) pivot.add('points', { name: 'Post ' + i, at: [i * 0.1, 0, 0] });
    pivot.set('parameters', 'arm', { value: '62 mm' });
    const run = pivot.run({ until: 0.5, every: 0.01 });
    log(run.status, run.time.length, Object.keys(run.gauges).length);`),
  ).toMatch(/4 changes, one undo step/);
  expect(await log()).toBe('done 51 8');
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.until('twenty points', async () => /Points 20/.test((await page.text('[role=tablist]')).replaceAll('\n', ' ')));
  await page.click('button', 'Undo');
  await page.until(
    'undone in one step',
    async () =>
      /Points 17/.test((await page.text('[role=tablist]')).replaceAll('\n', ' ')) &&
      (await (await page.find('button', 'Undo')).getAttribute('title')) === 'Nothing to undo',
  );
  await page.click('button', 'Project Sorting gate');
  await page.click('menuitem', 'Scripts…');
  await page.until('the editor', async () => (await page.driver.findElements(By.css('.cm-content'))).length > 0);
});

describe('a script that', () => {
  it.each<[string, string, RegExp]>([
    ['loops for ever is stopped', 'while (true) {}', /stopped after 10 s of work/],
    ['eats memory is stopped', 'const a = []; while (true) a.push(new Array(1e6).fill(1));', /more than 128 MB/],
    ['is wrong tells where', "log('here');\npivot.get('points', 'Nowhere');", /Line 2: There is no Nowhere among the points/],
    ['reaches out finds nothing there', 'fetch("/");', /'?fetch'? is not defined/],
    ['makes nonsense is refused', "pivot.add('points', { name: 'X', colour: [1] });", /no model|no field/],
  ])('%s, and the model stays', async (_what, text, words) => {
    expect(await said(text, 30_000)).toMatch(words);
    expect((await page.text('[role=tablist]')).replaceAll('\n', ' ')).toMatch(/Points 17/);
  });
});

it('is kept with the project', async () => {
  await write("log('kept');");
  await page.click('button', 'Keep with the project');
  await page.until('listed', async () => (await page.text('ul[aria-label="Scripts of this project"]')).includes('Script'));
});

it('what was done by hand comes as lines of a script', async () => {
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.click('tab', /^Parameters/);
  await page.type('Value of arm', '66 mm');
  await page.click('button', 'Project Sorting gate');
  await page.click('menuitem', 'Scripts…');
  await page.until('the editor', async () => (await page.driver.findElements(By.css('.cm-content'))).length > 0);
  await page.click('button', 'What was done by hand');
  await page.until('the edit', async () => (await page.text('.cm-content')).includes('pivot.set("parameters", "arm", {"value":"66 mm"});'));
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
