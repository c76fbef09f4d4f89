import { By } from 'selenium-webdriver';
import { writeFileSync } from 'node:fs';
import { Page } from './browser';
import serve from './server';
const stop = await serve();
const page = await Page.open();
try {
await page.run();
await page.type('End time', '60 s');
await page.click('button', 'Run');
await page.until('it has come some way', async () => parseFloat(/at ([\d.]+) s/.exec(await page.status())?.[1] ?? '0') > 1);
await page.driver.navigate().refresh();
await page.find('button', 'Run', 20_000);
await page.driver.sleep(1500);
await page.click('button', 'Readings');
await page.driver.sleep(3000);
writeFileSync(`/tmp/a7.png`, await page.driver.takeScreenshot(), 'base64');
console.log(await page.complaints());
} finally { await page.close(); stop(); }
process.exit(0);
