/** Projects on their shelf, as one file with their runs, from templates; formulas completed while typed; deletions that break much, and undo. */
import { readFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const shelf = async () => {
  await page.click('button', /^Project /);
  await page.click('menuitem', /^Projects, examples/);
  await page.until('the shelf', async () => (await page.text('[role=dialog]')).includes('Projects'));
};

describe('formulas', () => {
  it('are completed while typed, with the value as it would be, and Tab takes the first', async () => {
    const field = await page.find('textbox', 'Value of yoke_reach');
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '2*coup');
    await page.until('the name offered', async () => (await page.text('ul[aria-label="Could stand here"]')).includes('coupler_length'));
    await field.sendKeys(Key.TAB);
    await page.until('taken', async () => (await field.getAttribute('value')) === '2*coupler_length');
    await page.until('its value', async () => (await page.text('body')).includes('= 380 mm'));
    await field.sendKeys('*ste');
    await page.until('a function with its help', async () => /step\(\)/.test(await page.text('ul[aria-label="Could stand here"]')));
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '2*coupler_length + 3 kg');
    await page.until('what is wrong, before it is entered', async () => /a length \(m\) and a mass \(kg\)/.test(await page.text('body')));
    await field.sendKeys(Key.ESCAPE);
    if ((await field.getAttribute('value')) !== '90 mm') await field.sendKeys(Key.ESCAPE);
    expect(await (await page.find('button', 'Undo')).isEnabled()).toBe(false);
  });
});

describe('projects', () => {
  it('export with their runs as one file and come back as another project, states and all', async () => {
    await page.run();
    await page.click('button', 'Project Sorting gate');
    await page.click('menuitem', /^Export project file/);
    const file = await page.downloaded(/^sorting-gate\.pivot\.zip$/);
    expect(readFileSync(file).length).toBeGreaterThan(10_000);
    await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(file);
    await page.until(
      'the project with its run',
      async () =>
        /Run 1 done/.test(await page.status()) && (await (await page.find('button', 'Undo')).getAttribute('title')) === 'Nothing to undo',
    );
    await shelf();
    await page.until('two of them', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length === 2);
    expect(await page.text('[role=dialog]')).toMatch(/6 bodies, 1 run /);
  });

  it('have pictures, can be duplicated and deleted', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.type('Value of arm', '61 mm');
    await page.click('button', 'Undo');
    await page.driver.sleep(3500);
    await shelf();
    await page.until('a picture', async () => (await page.driver.findElements(By.css('[role=dialog] img'))).length > 0);
    await page.click('button', 'Duplicate');
    await page.until('a third', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length === 3);
    await page.click('button', 'Delete…');
    await page.click('button', 'Delete for good');
    await page.until('two again', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length === 2);
  });

  it('begin from a template that runs', async () => {
    await page.click('radio', 'Begin from');
    await page.until('templates', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length === 4);
    const cards = await page.driver.findElements(By.css('[role=dialog] li'));
    await (await cards[2]!.findElement(By.css('button'))).click();
    await page.find('button', 'Project Crank and rocker');
    await page.until('assembled', async () => (await page.text('[title^="Degrees of freedom left"]')).startsWith('Mobility 1'));
    expect(await page.run()).toMatch(/done/);
  });
});

describe('bad input', () => {
  const counts = async () => (await page.text('[role=tablist]')).replaceAll('\n', ' ');
  it('a body on which a dozen elements hang is deleted with words, and undo brings back exactly what was', async () => {
    await shelf();
    await page.click('radio', 'Examples');
    await page.click('button', 'Begin with it');
    await page.find('button', 'Project Sorting gate');
    await page.until('assembled', async () => (await page.text('[title^="Degrees of freedom left"]')).startsWith('Mobility 1'));
    const posture = () => page.script<string>('return window.vimPivotPosture()');
    const before = [await counts(), await posture()];
    await page.click('tab', /^Bodies/);
    await page.script(`document.querySelector('tr[data-row="Rocker"]').focus()`);
    await page.driver.actions().sendKeys(Key.DELETE).perform();
    await page.until(
      'what now refers to nothing is named',
      async () =>
        /Rocker/.test(await page.text('section[aria-label=Checks]')) && /Error 1 of \d/.test(await page.text('section[aria-label=Checks]')),
    );
    expect(Number(/of (\d+)/.exec(await page.text('section[aria-label=Checks]'))![1])).toBeGreaterThan(3);
    await page.click('button', 'Undo');
    await page.until('all as it was', async () => (await counts()) === before[0] && (await posture()) === before[1]);
  });

  it('names that clash or carry markup are refused in place', async () => {
    await page.click('tab', /^Bodies/);
    await page.script(`document.querySelector('tr[data-row="Rocker"]').focus()`);
    await page.driver.actions().sendKeys(Key.F2).perform();
    const field = await page.driver.switchTo().activeElement();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Crank', Key.ENTER);
    await page.until('the clash told', async () =>
      (await page.script<string>('return document.body.innerHTML')).includes('There is already Crank'),
    );
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '<b>Rocker</b>', Key.ENTER);
    await page.until('markup refused', async () =>
      /no quotes or angle brackets/.test(await page.script<string>('return document.body.innerHTML')),
    );
    await field.sendKeys(Key.ESCAPE);
    await page.until('the old name', async () => (await page.driver.findElements(By.css('tr[data-row="Rocker"]'))).length === 1);
  });
});

describe('the Map as a list', () => {
  it('shows bodies with what hangs on them, searches and selects', async () => {
    await page.click('radio', 'Map');
    await page.click('radio', 'List');
    await page.until('bodies', async () => (await page.text('[aria-label=Map]')).includes('Pusher'));
    await page.driver.findElement(By.css('input[aria-label="Search the Map"]')).sendKeys('Motor');
    await page.until('only what has to do with it', async () => !(await page.text('[aria-label=Map]')).includes('Push rod'));
    await page.click('button', /^Motor pin/);
    await page.until(
      'selected',
      async () => (await page.driver.findElements(By.css('section[aria-label="Card"] input[aria-label="Name of Motor pin"]'))).length > 0,
    );
    await page.until('its picture', async () =>
      /Symbol of the revolute joint, free in rotation/.test(
        (await (await page.driver.findElement(By.css('section[aria-label=Card] figure svg'))).getAttribute('aria-label')) ?? '',
      ),
    );
    await page.click('radio', 'Graph');
    await page.click('radio', 'Scene');
  });
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
