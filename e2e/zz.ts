import { spawn } from 'node:child_process';
import { Page, By, Key } from './browser';
const URL = 'http://localhost:3999';
async function main() {
  const server = spawn('bin/serve', { stdio: 'ignore', detached: true, env: { ...process.env, PORT: '3999' } });
  for (let i = 0; i < 100; i++) { if (await fetch(URL).then((r) => r.ok, () => false)) break; await new Promise((r) => setTimeout(r, 200)); }
  const page = await Page.open([1280, 800], URL);
  const say = async (text: string) => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('button', /Find or add/);
    const input = await page.until('line', async () => (await page.driver.findElements(By.css('[role=dialog] input')))[0]);
    await input.sendKeys(text); await page.driver.sleep(350);
    const shown = (await page.text('[role=dialog]')).replaceAll('\n', ' | ').slice(0, 260);
    await input.sendKeys(Key.ENTER); await page.driver.sleep(350);
    const left = await page.driver.findElements(By.css('[role=dialog] input'));
    console.log(`> ${text}\n    ${shown}${left.length ? '\n    NOT TAKEN: ' + (await page.text('[role=dialog]')).replaceAll('\n', ' | ').slice(0, 300) : ''}`);
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  };
  const shot = (n: string) => page.shot(`/tmp/shots/${n}.png`);
  const body = async () => console.log((await page.text('body')).replaceAll('\n', ' | '));
  try {
    await page.find('button', 'Run');
    await page.click('button', /^Project /);
    await page.click('menuitem', /^New/);
    await page.driver.sleep(1000);
    await say('parameter arm = 60 mm');
    await say('parameter gap 2 mm');
    await say('point A');
    await say('point B at arm, 0, 0');
    await say('point C at 200 mm, 60 mm, 0');
    await say('link Crank from A to B');
    await say('link Rod from B to C');
    await say('hinge between ground and Crank at A');
    await say('pin between Crank and Rod at B');
    await say('slider between Rod and ground at C along x');
    await say('cylinder Roller from A to B radius 2*gap + 20 mm');
    await say('body Slider');
    await say('pin between Rod and Slider at C');
    await say('slider between Slider and ground at C along x');
    await say('drive M on Crank 30 deg');
    await say('drive M on Frame to Crank 60 rpm');
    await say('gauge torque M');
    await say('gauge travel of Slider');
    await say('limit Rated on M torque upper bound 2 N*m');
    await shot('2-said');
    console.log(await page.text('section[aria-label=Checks]').catch(() => ''));
    console.log(await page.run());
    await page.driver.sleep(1500);
    await shot('3-run');
    await body();
  } finally {
    console.log((await page.complaints()).join('\n'));
    await page.close().catch((e) => console.log(String(e)));
    process.kill(-server.pid!);
  }
}
void main();
