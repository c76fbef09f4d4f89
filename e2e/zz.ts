import { By, Page } from './browser';
import serve, { URL } from './server';
async function main() {
  const stop = await serve();
  const page = await Page.open([1280, 800], URL, 'en-GB', 1);
  try {
    await page.find('button', 'Run');
    await page.click('button', /^Mobility 1/);
    await page.find('button', 'Find degrees of freedom');
    await page.driver.sleep(500);
    await page.shot('/tmp/z1.png');
    await (await page.driver.findElement(By.css('section[aria-label="Motion"] [role=checkbox]'))).click();
    await page.click('button', 'Find equilibria');
    await page.driver.sleep(2500);
    await (await page.driver.findElement(By.css('section[aria-label="Equilibria"] li button'))).click();
    await page.driver.sleep(600);
    await page.shot('/tmp/z2.png');
    await page.click('button', 'Find modes');
    await page.driver.sleep(1500);
    await (await page.driver.findElement(By.css('section[aria-label="Modes"] li button'))).click();
    await page.script("document.querySelector('section[aria-label=\"Modes\"]').scrollIntoView({ block: 'start' })");
    await page.driver.sleep(600);
    await page.shot('/tmp/z3.png');
    await page.script("document.querySelector('section[aria-label=\"Linear system\"]').scrollIntoView({ block: 'start' })");
    await page.driver.sleep(300);
    await page.shot('/tmp/z4.png');
  } finally {
    await page.close().catch((e) => console.log(e));
    stop();
  }
}
void main();
