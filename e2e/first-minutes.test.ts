/** The first minutes of a new user: ways to begin, the walk through a first machine, picking by the mouse alone, and why a run ended. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, Key, Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const card = () => page.text('section[aria-label=Card]');
const LINE = By.css('[role=combobox][aria-label="Find or add"]');
const line = () => page.until('the line', async () => (await page.driver.findElements(LINE))[0]);
/** What a user does with the / line. */
const say = async (text: string) => {
  await page.driver.actions().sendKeys('/').perform();
  await (await line()).sendKeys(text, Key.ENTER, Key.ESCAPE);
  await page.until('the line is gone', async () => (await page.driver.findElements(LINE)).length === 0);
};
const newProject = async () => {
  await page.click('button', /^Project /);
  await page.click('menuitem', 'New empty project');
  await page.find('button', /^Show me/);
};

describe('an empty project', () => {
  it('offers ways to begin: a prepared machine, drawing, a file, the / line', async () => {
    await newProject();
    await page.click('button', /^From a prepared machine/);
    await page.find('button', 'Begin with it');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.find('button', /^From a file/);
    await page.click('button', /^By saying it/);
    await line();
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('button', /^By drawing/);
    await page.until('the sheet', async () => (await page.driver.findElements(By.css('[data-testid=sketch]'))).length === 1);
    await page.until(
      'the offers are gone',
      async () => (await page.driver.findElements(By.css('[aria-label="Ways to begin"]'))).length === 0,
    );
  });

  it('the walk leads from nothing to a driven machine, each step done on the real interface', async () => {
    await newProject();
    await page.click('button', /^Show me/);
    const walk = () => page.text('[aria-label="A first machine"]');
    const step = (n: number) => page.until(`step ${n}`, async () => (await walk()).includes(`step ${n} of 9`));
    /** What the walk says is to be written. */
    const asked = async () => (await page.driver.findElement(By.css('[aria-label="A first machine"] .font-mono'))).getText();
    for (const n of [1, 2, 3, 4]) {
      await step(n);
      await say(await asked());
    }
    await step(5);
    await page.until('one degree of freedom', async () => /Mobility 1/.test(await page.text('body')));
    expect(await page.run()).toMatch(/done/);
    for (const n of [6, 7]) {
      await step(n);
      await say(await asked());
    }
    await step(8);
    expect(await page.run()).toMatch(/done/);
    await step(9);
    await page.click('tab', /^Points/);
    await page.type('Coordinates x of B', '120 mm');
    await page.until('the end', async () => /That is a first machine/.test(await walk()));
    await page.click('button', 'End the walk');
    await page.click('button', 'Undo');
    await page.until(
      'the edit is taken back',
      async () => (await (await page.find('textbox', 'Coordinates x of B')).getAttribute('value')) === '80 mm',
    );
  });
});

describe('the / line', () => {
  it('says on which word it stumbles and what could stand there', async () => {
    await page.driver.actions().sendKeys('/').perform();
    await (await line()).sendKeys('revolute between Frame and Nobody at A');
    await page.until('the word', async () => /Nothing here is called “Nobody”\. .*Crank/.test(await page.text('[role=dialog]')));
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  });
});

describe('picking', () => {
  it('takes a second thing by the mouse alone, shows both as chips, and takes one off again', async () => {
    await page.click('tab', /^Points/);
    await (await page.driver.findElement(By.css('tr[data-row="A"] td:nth-child(4)'))).click();
    await page.click('button', 'Pick another');
    await (await page.driver.findElement(By.css('tr[data-row="B"] td:nth-child(4)'))).click();
    await page.until('two are picked', async () => /2 picked/.test(await card()));
    await page.find('button', 'Leave out A');
    await page.click('button', 'Leave out B');
    await page.until('one is left', async () => !/2 picked/.test(await card()) && /named place/.test(await card()));
  });
});

describe('a run that does not come to its end', () => {
  const reason = () => page.text('[aria-label="Why the run ended"]');
  it('says why in full, at the time of the machine, and shows the posture and the element', async () => {
    await page.click('tab', /^Drives/);
    await page.type('Formula of Motor', '1 rad/s / (0.4 - t / (1 s))');
    await page.run();
    const said = await page.until('the reason', reason);
    expect(said).toMatch(/^Run 3 failed at 0\.[34]\d* s\./);
    expect(
      await page.script<boolean>(
        `const e = document.querySelector('[aria-label="Why the run ended"] p'); return e.scrollWidth <= e.clientWidth + 1 && e.scrollHeight <= e.clientHeight + 1`,
      ),
    ).toBe(true);
    await page.click('button', 'Show');
    await page.until('the last posture', async () => /^0\.[34]/.test(await page.text('output[aria-label="Time shown"]')));
    await page.click('button', 'Close the reason');
    await page.click('button', 'Undo');
  });
});

describe('help', () => {
  it('stands behind ? and its button, on one page', async () => {
    await (await page.driver.findElement(By.css('body'))).click();
    await page.driver.actions().sendKeys(Key.ESCAPE, '?').perform();
    await page.until('the page', async () => /Ctrl-click picks a second thing/.test(await page.text('[role=dialog]')));
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('button', 'Help');
    await page.click('button', 'Close');
  });
});

describe('a machine that moves in a plane', () => {
  it('has one quiet note about its redundant constraints, and one press makes it exact', async () => {
    await page.click('button', /^Project /);
    await page.click('menuitem', 'Projects, examples, beginnings…');
    await page.click('button', 'Open Sorting gate');
    await page.find('button', 'Project Sorting gate');
    const checks = await page.until('the note', async () => {
      const text = await page.text('section[aria-label=Checks]');
      return /Planar loops: 6 redundant constraints/.test(text) && text;
    });
    expect(checks).toMatch(/^Note 1 of/);
    await page.click('button', 'Make it planar-exact');
    await page.until('no note', async () => !/Planar loops/.test(await page.text('body')));
    expect(await page.run()).toMatch(/done/);
    await page.click('button', 'Undo');
  });
});

describe('units', () => {
  it('of the project can be changed: what is shown follows, what was typed stays', async () => {
    await page.click('button', 'Project Sorting gate');
    await page.click('menuitem', /^Inch and pound/);
    await page.click('tab', /^Parameters/);
    await page.until('inches', async () => /inch/.test(await page.text('section[aria-label=Ledger]')));
    expect(await (await page.find('textbox', 'Value of arm')).getAttribute('value')).toBe('60 mm');
    await page.click('button', 'Undo');
    await page.until('millimetres', async () => !/inch/.test(await page.text('section[aria-label=Ledger]')));
  });
});
