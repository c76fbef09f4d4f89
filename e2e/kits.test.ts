/** Kits as a user meets them: made of what is picked, put in again, edited once for all, kept, handed on, and made independent. */
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run', 20_000);
});
afterAll(() => page?.close());

const posture = () =>
  page.script<number[] | null>("return window.vimPivotPosture ? window.vimPivotPosture().split(' ').map(Number) : null");
const bodies = async () => ((await posture())?.length ?? 0) / 7;
const kits = async () => {
  await page.click('button', /^Project /);
  await page.click('menuitem', 'Kits…');
  await page.until('the shelf of kits', async () => (await page.text('[role=dialog]')).includes('Library'));
};
const openFile = (file: string) =>
  page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(`${process.cwd()}/${file}`);
const row = (name: string) => page.driver.findElement(By.css(`tr[data-row="${name}"]`));
const rows = async () => Promise.all((await page.driver.findElements(By.css('tr[data-row]'))).map((r) => r.getAttribute('data-row')));

describe('a kit', () => {
  it('is made of bodies that are picked; the machine runs on as before', async () => {
    await page.run();
    await page.click('tab', /^Bodies/);
    await (await row('Crank')).click();
    for (const name of ['Coupler', 'Rocker', 'Yoke', 'Push rod', 'Pusher']) {
      if (!(await rows()).includes(name)) continue;
      await page.driver
        .actions()
        .keyDown(Key.CONTROL)
        .click(await row(name))
        .keyUp(Key.CONTROL)
        .perform();
    }
    await page.click('button', 'Kit…');
    const name = await page.find('textbox', 'Name of the kit');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Pusher train', Key.ENTER);
    await page.until('the instance on the Card', async () => (await page.text('section[aria-label=Card]')).includes('Make independent'));
    expect(await page.run()).toMatch(/done/);
    await page.click('tab', /^Bodies/);
    expect(await rows()).toEqual([]);
    await page.until('its bodies in the scene', async () => (await bodies()) === 6);
  });
  it('is put in a second time with a value and a place of its own', async () => {
    await kits();
    await page.click('button', 'Put in');
    await page.until(
      'the second',
      async () =>
        (await page.text('section[aria-label=Card]')).includes('Pusher train 1') ||
        (await (await page.find('textbox', 'arm here')).getAttribute('value')) === '',
    );
    await page.type('At y', '400 mm');
    await page.type('arm here', '70 mm');
    await page.until('twice the bodies', async () => (await bodies()) === 12);
    expect(await page.run()).toMatch(/done/);
  });
  it('is opened and changed once: both follow, and undo takes it back', async () => {
    await page.click('button', 'Open its kit');
    await page.until('the kit', async () => (await page.text('[aria-label="Open kit"]')).includes('all 2 instances'));
    await page.click('tab', /^Shapes/);

    expect(await rows()).toContain('Crank bar');
    await (await row('Crank bar')).click();
    await page.type('Width', '60 mm');
    // run by itself, it is not taken for the machine
    expect(await page.run()).toMatch(/done/);
    await page.click('button', 'Readings');
    await page.until('the runs', async () => (await page.driver.findElements(By.css('section[aria-label=Runs] li'))).length > 0);
    const runs = await page.text('section[aria-label=Runs]'),
      number = /Run (\d+)[^\n]*\n?[^\n]*of Pusher train/.exec(runs)![1]!;
    await page.click('button', `More on run ${number}`);
    await page.until('what it is of', async () => (await page.text('section[aria-label=Runs]')).includes('Of the kit Pusher train'));
    expect(await page.text('section[aria-label=Runs]')).not.toContain('Bring its model back');
    await page.click('button', 'Build');
    await page.click('button', /^Back to/);
    await page.until('the whole machine', async () => (await bodies()) === 12);
    await page.click('button', 'Undo');
    await page.until('the kit again, as it was', async () => (await page.text('[aria-label="Open kit"]')).includes('Pusher train'));
    await page.click('button', /^Back to/);
    await page.until('the whole machine', async () => (await bodies()) === 12);
  });
  it('is kept in the library and put into another project; exported, and taken in from the file', async () => {
    await kits();
    await page.click('button', 'Keep in library');
    await page.find('button', 'Keep anew');
    await page.click('button', 'Export');
    const file = await page.downloaded(/^pusher-train\.kit\.json$/);
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('button', /^Project /);
    await page.click('menuitem', 'New empty project');
    await page.find('button', 'Project Untitled machine');
    await kits();
    await page.click('radio', 'Library');
    await page.click('button', 'Put in');
    await page.until('its bodies', async () => (await bodies()) === 6);
    expect(await page.run()).toMatch(/done/);
    await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(file);
    // the same kit under the same name is not taken twice
    await page.click('tab', /^Kits/);
    await page.until('still one kit', async () => (await rows()).length === 1);
  });
  it('gives way when an instance is made independent', async () => {
    await page.click('tab', /^Instances/);
    await (await row((await rows())[0]!)).click();
    await page.click('button', 'Make independent');
    await page.click('tab', /^Bodies/);
    await page.until('bodies of its own', async () => (await rows()).length === 6);
    expect(await page.run()).toMatch(/done/);
  });
});

describe('bad files of kits', () => {
  it.each<[string, string]>([
    [
      'that contain themselves',
      '{"format":"vim-pivot-kits","version":1,"kits":[{"name":"A","content":{"instances":[{"name":"x","kind":"single","kit":"A"}]}}]}',
    ],
    [
      'with a field there is none of',
      '{"format":"vim-pivot-kits","version":1,"kits":[{"name":"A","content":{"bodies":[{"name":"x","weight":3}]}}]}',
    ],
    ['that are cut short', '{"format":"vim-pivot-kits","version":1,"kits":[{"name":"A"'],
  ])('%s leave the project as it runs', async (what, text) => {
    const { writeFileSync } = await import('node:fs');
    const file = join(page.downloads, `${what.replaceAll(' ', '-')}.kit.json`);
    writeFileSync(file, text);
    await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(file);
    await page.driver.sleep(800);
    for (let i = 0; i < 2; i++) await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('tab', /^Bodies/);
    await page.until('the bodies', async () => (await rows()).length === 6);
    expect(await page.run()).toMatch(/done/);
  });
});

describe('examples of kits', () => {
  it('the wings fold, both; a click on one selects its instance', async () => {
    await openFile('examples/wing-fold.pivot.json');
    await page.find('button', 'Project Wing fold');
    await page.until('both wings', async () => (await bodies()) === 8);
    const [x, y] = await page.script<[number, number]>("return window.vimPivotSpot('Left/Inner/Panel')");
    const canvas = await page.driver.findElement(By.css('canvas')),
      box = await canvas.getRect();
    // beside the point in its middle, which would be picked
    await page.driver
      .actions()
      .move({ origin: canvas, x: Math.round(x - box.width / 2) + 10, y: Math.round(y - box.height / 2) - 5 })
      .click()
      .perform();
    await page.until(
      'the instance',
      async () =>
        /Left|Right/.test(await page.text('section[aria-label=Card]')) &&
        (await page.text('section[aria-label=Card]')).includes('instance of a kit'),
    );
    expect(await page.run()).toMatch(/done/);
  });
  it('a live mirror is made of what is picked, and follows', async () => {
    await openFile('examples/sorting-gate.pivot.json');
    await page.find('button', 'Project Sorting gate');
    await page.until('the gate', async () => (await bodies()) === 6);
    await page.click('tab', /^Bodies/);
    await (await row('Crank')).click();
    for (const name of ['Coupler', 'Rocker', 'Yoke', 'Push rod', 'Pusher'])
      if ((await rows()).includes(name))
        await page.driver
          .actions()
          .keyDown(Key.CONTROL)
          .click(await row(name))
          .keyUp(Key.CONTROL)
          .perform();
    await page.click('button', 'Copies…');
    await page.click('radio', 'Mirrored');
    await (await page.driver.findElement(By.css('[role=dialog] [role=checkbox]'))).click();
    await page.type('Plane at', '800 mm');
    await page.click('button', /Make the mirrored copy/);
    await page.until('the image', async () => (await bodies()) === 12);
    await page.click('tab', /^Parameters/);
    await page.type('Value of arm', '66');
    expect(await page.run()).toMatch(/done/);
  });
  it('nothing was complained of', async () => {
    expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
  });
});
