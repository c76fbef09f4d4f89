import { By, Key } from 'selenium-webdriver';
import { Page } from './browser';
import serve, { URL } from './server';
const stop = await serve();
const page = await Page.open([1280, 800], URL, 'en-GB', 1);
const wait = (ms: number) => new Promise((r) => setTimeout(r, ms));
const LINE = By.css('[role=combobox][aria-label="Find or add"]');
const say = async (text: string) => {
  await page.driver.actions().sendKeys('/').perform();
  const line = await page.until('the line', async () => (await page.driver.findElements(LINE))[0]);
  await line.sendKeys(text);
  await wait(300);
  if (text.startsWith('contact')) await page.shot('/tmp/s0.png');
  await line.sendKeys(Key.ENTER, Key.ESCAPE);
  await wait(500);
};
try {
await wait(4000);
await page.click('button', /^Project /);
await page.click('menuitem', 'New empty project');
await wait(1500);
for (const x of ['point Middle at 0, 0, 500 mm', 'point Slab at 0, 0, -20 mm', 'material Steel 7850 kg/m^3', 'sphere Ball at Middle radius 60 mm', 'box Floor in Ground at Slab length 1 m depth 600 mm height 40 mm', 'contact between Ground and Ball', ]) await say(x);
await page.shot('/tmp/s1.png');
await page.click('tab', /^Bodies/); await wait(800);
await page.shot('/tmp/s2.png');
console.log(await page.run());
await wait(1500);
await page.shot('/tmp/s3.png');
} catch (e) { console.log(String(e).slice(0, 300)); await page.shot('/tmp/s1.png'); }
await page.close(); try { stop(); } catch {} process.exit(0);
