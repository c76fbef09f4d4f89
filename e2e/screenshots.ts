/** Pictures of the main views from the demo data, for docs/screenshots. Usage: bin/build && npx tsx e2e/screenshots.ts */
import { By, Page } from './browser';
import serve, { URL } from './server';

async function main(): Promise<void> {
  const stop = await serve();
  const page = await Page.open([1280, 800], URL);
  const shot = async (name: string) => {
    await page.driver.sleep(900);
    await page.shot(`docs/screenshots/${name}.png`);
  };
  try {
    await page.run();
    await page.type('Value of arm', '66');
    await page.run();
    await page.driver.sleep(1500);
    await page.click('button', 'Pause');
    await page.click('tab', /^Drives/);
    const row = await page.driver.findElement(By.css('tr[data-row="Motor"]'));
    await page.script('arguments[0].focus()', row);
    await shot('build');
    await page.click('button', 'Readings');
    await page.click('button', 'Overlay run 1');
    await shot('readings');
    await page.click('button', 'Build');
    await page.click('button', 'Dark theme');
    await page.click('tab', /^Parameters/);
    await page.type('Value of coupler_length', '3*arm + 10 kg');
    await shot('build-dark-error');
  } finally {
    await page.close();
    stop();
  }
}

void main();
