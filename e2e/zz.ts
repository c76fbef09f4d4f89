import { By, Page } from './browser';
import serve, { URL } from './server';
async function main() {
  const stop = await serve();
  const page = await Page.open([1280, 800], URL, 'en-GB', 1);
  try {
    await page.run();
    await page.click('button', 'Readings');
    await page.click('button', 'Add a score');
    await page.driver.sleep(800);
    await page.click('button', 'Close the Card');
    await page.driver.sleep(500);
    const t0 = Date.now();
    await page.click('button', 'What moves it');
    await page.driver.sleep(150);
    await page.shot('/tmp/s1.png');
    await page.until('found', async () => (await page.driver.findElements(By.css('[data-number]'))).length > 0);
    console.log('ms', Date.now() - t0);
    await page.driver.sleep(400);
    await page.script("document.querySelector('[role=region][aria-label^=\"What moves\"]').scrollIntoView({ block: 'center' })");
    await page.driver.sleep(300);
    await page.shot('/tmp/s2.png');
    await page.click('button', /more$/);
    await page.driver.sleep(300);
    await page.shot('/tmp/s3.png');
    await page.click('button', 'Ask all');
    await page.driver.sleep(300);
    await page.until('all', async () => (await page.driver.findElements(By.css('progress'))).length === 0);
    console.log('all ms', Date.now() - t0);
    await page.shot('/tmp/s4.png');
  } finally { await page.close(); stop(); }
}
void main();
