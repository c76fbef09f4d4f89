import { By, Key, Page } from './browser';
import serve, { URL } from './server';
const stop = await serve();
const page = await Page.open([1280, 800], URL, 'en-GB', 1);
const LINE = By.css('[role=combobox][aria-label="Find or add"]');
const say = async (text: string) => {
  await page.driver.actions().sendKeys('/').perform();
  const line = await page.until('the line', async () => (await page.driver.findElements(LINE))[0]);
  await line.sendKeys(text, Key.ENTER, Key.ESCAPE);
  await page.until('gone', async () => (await page.driver.findElements(LINE)).length === 0);
};
try {
  await page.find('button', 'Run');
  await new Promise((r) => setTimeout(r, 1500));
  await page.click('button', /^Project /);
  await page.click('menuitem', 'New empty project');
  await page.find('button', /^Show me/);
  for (const line of ['point Middle at 0, 0, 500 mm','point Other at 300 mm, 0, 600 mm','point Slab at 0, 0, -20 mm','sphere Ball at Middle radius 60 mm','sphere Ball2 at Other radius 60 mm','floor Ground in Ground at Slab'])
    await say(line);
  await page.shot('/tmp/s0.png');
  console.log(await page.run());
  await new Promise((r) => setTimeout(r, 3000));
  await page.shot('/tmp/s1.png');
  await page.click('button', 'Add contact and run');
  await new Promise((r) => setTimeout(r, 4000));
  await page.shot('/tmp/s2.png');
  console.log((await page.text('body')).slice(-600));
} finally { await page.close(); stop(); }
