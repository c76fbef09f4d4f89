/** Pictures of the main views from the demo data, for docs/screenshots. Usage: bin/build && npx tsx e2e/screenshots.ts */
import { Key } from 'selenium-webdriver';
import { By, Page } from './browser';
import serve, { URL } from './server';

type Shot = (name: string) => Promise<void>;

/** One after the other: each begins where the one before it ended. */
async function main(): Promise<void> {
  const stop = await serve();
  const page = await Page.open([1280, 800], URL, 'en-GB', 1);
  const shot = async (name: string) => {
    await page.driver.sleep(900);
    await page.shot(`docs/screenshots/${name}.png`);
  };
  try {
    for (const part of [build, readings, motion, scenes, examples, files, darkError, sketched]) await part(page, shot);
  } finally {
    await page.close();
    stop();
  }
}

async function build(page: Page, shot: Shot): Promise<void> {
  await page.run();
  await page.type('Value of arm', '66');
  await page.run(true);
  await page.driver.sleep(1500);
  await page.click('button', 'Pause');
  await page.click('tab', /^Drives/);
  const row = await page.driver.findElement(By.css('tr[data-row="Motor"]'));
  await page.script('arguments[0].focus()', row);
  await shot('build');
  await page.click('tab', /^Bodies/);
  await (await page.driver.findElement(By.css('tr[data-row="Rocker"]'))).click();
  await page.until('mass', async () => (await page.text('section[aria-label="Mass properties"]')).includes('Principal'));
  await page.script("document.querySelector('section[aria-label=\"Mass properties\"]').scrollIntoView({ block: 'end' })");
  await shot('mass');
  await page.click('tab', /^Drives/);
  await page.click('button', 'Timeline');
  await page.menu('Menu of the timeline of Motor', /^Add a segment/);
  await shot('timeline');
  await page.click('button', 'Undo');
  await page.click('button', 'Timeline');
}

async function readings(page: Page, shot: Shot): Promise<void> {
  await page.click('button', 'Readings');
  await page.click('button', 'Overlay run 1');
  await page.click('button', 'Add a score');
  await page.driver.sleep(400);
  await page.click('button', 'Add a limit');
  await page.type('Upper bound', '45 mm');
  await page.click('button', 'Put cursors on the last strokes');
  await page.click('button', 'Close the Card');
  await shot('readings');
  await page.click('button', 'What moves it');
  await page.until('numbers', async () => (await page.driver.findElements(By.css('[data-number]'))).length > 0, 120_000);
  await page.script("document.querySelector('section[aria-label=Scores]').scrollIntoView({ block: 'start' })");
  await shot('moves');
  await page.click('button', 'What moves it');
  for (let i = 0; i < 3; i++) await page.click('button', 'Undo');
  await page.click('button', 'Add a sheet');
  await page.driver.sleep(300);
  await page.click('menuitem', /^Stroke timing/);
  await page.driver.sleep(2500);
  await page.click('button', 'Playback…');
  await page.click('button', 'Ghost here');
  await page.click('button', 'Forces');
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.click('button', 'Next peak');
  await page.driver.sleep(2000);
  await shot('sheet');
  await page.click('button', 'Playback…');
  await page.click('button', 'no ghosts');
  await page.click('button', 'Forces');
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.click('button', 'Undo');
  await page.click('tab', 'All gauges');
}

async function motion(page: Page, shot: Shot): Promise<void> {
  await page.click('button', 'Build');
  await page.click('button', /^Mobility/);
  await page.until(
    'the panel',
    async () => (await page.driver.findElements(By.css('section[aria-label="Motion"] [role=checkbox]'))).length > 0,
  );
  await (await page.driver.findElement(By.css('section[aria-label="Motion"] [role=checkbox]'))).click();
  await page.click('button', 'Find degrees of freedom');
  await page.until('degrees of freedom', async () => (await page.text('section[aria-label="Motion"]')).includes('turns'));
  await page.click('button', 'Find equilibria');
  await page.until('equilibria', async () => (await page.text('section[aria-label="Motion"]')).includes('Equilibrium 1'), 20_000);
  await page.click('button', 'Find modes');
  await page.click('button', /^Mode 1/);
  await shot('motion');
  await page.click('button', /^Mode 1/);
  await (await page.driver.findElement(By.css('section[aria-label="Motion"] [role=checkbox]'))).click();
  const tick = async (list: string, name: string) => {
    const label = await page.until(name, () =>
      page.driver.findElement(By.xpath(`//ul[@aria-label="${list}"]//label[.//span[text()="${name}"]]`)),
    );
    await page.script("arguments[0].scrollIntoView({ block: 'center' })", label);
    await label.click();
  };
  await tick('Linear system: inputs', 'Motor');
  await tick('Linear system: outputs', 'Crank torque');
  await page.type('Linear system: response from', '0.5 Hz');
  await page.type('Linear system: amplitude', '0.2 rad/s');
  await page.type('Linear system: response to', '50 Hz');
  await page.until(
    'charts',
    async () => (await page.driver.findElements(By.css('section[aria-label="Linear system"] figure canvas'))).length > 0,
  );
  await page.script("document.querySelector('section[aria-label=\"Linear system\"] figure').scrollIntoView({ block: 'start' })");
  await shot('response');
}

async function scenes(page: Page, shot: Shot): Promise<void> {
  await page.click('button', 'Close Motion');
  await page.click('radio', 'Map');
  await page.until('the graph', async () => (await page.driver.findElements(By.css('.react-flow__node'))).length > 4);
  await page.click('button', /Find or add/);
  await page.until('the line', async () => (await page.driver.findElements(By.css('[role=dialog] input'))).length > 0);
  await (await page.driver.findElement(By.css('[role=dialog] input'))).sendKeys('joint friction on Rail slide');
  await shot('map-and-line');
  await (await page.driver.findElement(By.css('[role=dialog] input'))).sendKeys(Key.ESCAPE);
  await page.click('radio', 'Scene');
  await page.click('radio', 'Skeleton');
  await shot('skeleton');
  await page.click('radio', 'Solid');
  await page.click('button', 'View');
  await page.find('radio', 'Perspective');
  await (await page.driver.findElements(By.css('section[aria-label=View] [aria-label="Section square to"] button')))[2]!.click();
  await shot('section');
  await (await page.driver.findElements(By.css('section[aria-label=View] [aria-label="Section square to"] button')))[0]!.click();
  await page.click('button', 'Close View');
}

async function examples(page: Page, shot: Shot): Promise<void> {
  await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(`${process.cwd()}/examples/wing-fold.pivot.json`);
  await page.find('button', 'Project Wing fold');
  await page.run(true);
  await page.driver.sleep(1500);
  await page.click('button', 'Pause');
  await page.click('tab', /^Instances/);
  await (await page.driver.findElement(By.css('tr[data-row="Left"]'))).click();
  await shot('kits');
  await page.driver
    .findElement(By.css('input[aria-label="Open a model file"]'))
    .sendKeys(`${process.cwd()}/examples/shaker-head.pivot.json`);
  await page.find('button', 'Project Shaker head');
  await page.run();
  await page.click('button', 'Workings');
  await page.driver.sleep(2500);
  await page.script("document.querySelector('article[aria-label=Workings]').parentElement.scrollTop = 330");
  await shot('workings');
  await page.click('button', 'Build');
  await page.driver
    .findElement(By.css('input[aria-label="Open a model file"]'))
    .sendKeys(`${process.cwd()}/examples/fruit-drop.pivot.json`);
  await page.find('button', 'Project Fruit drop');
  await page.run(true);
  await page.driver.sleep(500);
  await page.click('button', 'Pause');
  await page.click('button', 'Front');
  await page.click('button', 'Fit');
  await page.click('tab', /^Loads/);
  await (await page.driver.findElement(By.css('tr[data-row="Padding"]'))).click();
  await shot('contact');
}

async function files(page: Page, shot: Shot): Promise<void> {
  await page.click('button', 'Build');
  await page.click('button', 'Project Fruit drop');
  await page.click('menuitem', 'Sorting gate');
  await page.find('button', 'Project Sorting gate');
  await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(`${process.cwd()}/examples/sorting-gate.step`);
  await page.until('the parts', async () => (await page.text('[role=dialog]')).includes('6 parts'), 30_000);
  await shot('import');
  await page.click('button', 'Cancel');
  await page.driver.sleep(3000);
  await page.click('button', 'Project Sorting gate');
  await page.click('menuitem', /^Projects, examples/);
  await page.until('the shelf', async () => (await page.driver.findElements(By.css('[role=dialog] img'))).length > 0);
  await shot('projects');
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
}

async function darkError(page: Page, shot: Shot): Promise<void> {
  await page.click('button', 'Dark theme');
  await page.click('tab', /^Parameters/);
  await page.type('Value of coupler_length', '3*arm + 10 kg');
  await shot('build-dark-error');
  await page.click('button', 'Undo');
  await page.click('button', 'Light theme');
}

async function sketched(page: Page, shot: Shot): Promise<void> {
  await page.click('button', /^Project /);
  await page.click('menuitem', 'New empty project');
  await page.click('button', /^By drawing/);
  const sheet = await page.until('the sheet', () =>
    page.script<{ x: number; ground: number } | null>(
      'const g = document.querySelector("[data-ground] path"); return g && { x: document.querySelector("[data-testid=sketch]").getBoundingClientRect().x, ground: g.getBoundingClientRect().y }',
    ),
  );
  const at = (x: number, y: number) => ({ x: Math.round(sheet.x + x), y: Math.round(sheet.ground - y) });
  const stroke = async (from: [number, number], to: [number, number], release = true) => {
    const drawn = page.driver
      .actions()
      .move(at(...from))
      .press()
      .move({ ...at((from[0] + to[0]) / 2, (from[1] + to[1]) / 2), duration: 60 })
      .move({ ...at(...to), duration: 60 });
    await (release ? drawn.release() : drawn).perform();
    await page.driver.sleep(700);
  };
  await stroke([250, 0], [290, 70]);
  await stroke([290, 70], [570, 160]);
  await stroke([620, 0], [570, 160], false);
  await shot('sketch');
  await page.driver.actions().release().perform();
}

void main();
