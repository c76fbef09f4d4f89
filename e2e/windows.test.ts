/** The same project in two windows loses nothing; revisions can be gone back to; no view has an accessibility violation. */
import { readFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';
import { URL } from './server';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const arm = async () => (await page.find('textbox', 'Value of arm')).getAttribute('value');

describe('two windows', () => {
  it('an edit in one appears in the other as an edit there, which undo takes back in both', async () => {
    const first = await page.driver.getWindowHandle();
    await page.driver.switchTo().newWindow('tab');
    await page.driver.get(URL);
    await page.until('the same project', async () => (await arm()) === '60 mm');
    const second = await page.driver.getWindowHandle();
    await page.type('Value of arm', '66 mm');
    await page.driver.switchTo().window(first);
    await page.until('the edit arrives', async () => (await arm()) === '66 mm');
    await page.click('button', 'Undo');
    await page.until('undone here', async () => (await arm()) === '60 mm');
    await page.driver.switchTo().window(second);
    await page.until('and there', async () => (await arm()) === '60 mm');
    await page.driver.close();
    await page.driver.switchTo().window(first);
  });

  it('revisions are listed and can be gone back to', async () => {
    await page.type('Value of arm', '72 mm');
    await page.driver.sleep(600);
    await page.click('button', /^Project Sorting gate/);
    await page.click('menuitem', 'Revisions…');
    await page.until('a revision', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length > 0);
    const buttons = await page.driver.findElements(By.css('[role=dialog] li button'));
    await buttons.at(-1)!.click();
    await page.until('gone back', async () => (await arm()) !== '72 mm');
    await page.click('button', 'Undo');
    await page.until('undone', async () => (await arm()) === '72 mm');
  });
});

describe('accessibility', () => {
  const axe = readFileSync('node_modules/axe-core/axe.min.js', 'utf8');
  /** What is wrong in one theme. Of the other only its colours are looked at: nothing else differs. */
  const violations = async (rules: object) => {
    await page.script(`if (!window.axe) { ${axe} }`);
    return page.driver.executeAsyncScript<string[]>(
      `
      const [rules, done] = arguments;
      axe.run(document, { runOnly: rules }).then((r) => done(r.violations.map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 120)).join(' | '))));`,
      rules,
    );
  };
  /** By its button, also where a dialog lies over it. */
  const otherTheme = async () => {
    const dark = "return document.documentElement.classList.contains('dark')";
    const before = await page.script(dark);
    await page.script(`document.querySelector('button[aria-label$=" theme"]').click()`);
    await page.until('the other theme', async () => (await page.script(dark)) !== before);
  };
  const views: [string, () => Promise<void>][] = [
    [
      'Build, a joint on the Card',
      async () => {
        await page.click('tab', /^Joints/);
        await (await page.driver.findElement(By.css('tr[data-row="Motor pin"] td:nth-child(3)'))).click();
        await page.find('button', /^Joint spring/);
      },
    ],
    ['Motion', async () => page.click('button', /^Mobility/)],
    [
      'Map',
      async () => {
        await page.click('button', 'Close Motion');
        await page.click('radio', 'Map');
        await page.until('the graph', async () => (await page.driver.findElements(By.css('.react-flow__node'))).length > 4);
      },
    ],
    [
      'Map as a list',
      async () => {
        await page.click('radio', 'List');
        await page.find('button', /^Motor pin/);
      },
    ],
    [
      'View, skeleton',
      async () => {
        await page.click('radio', 'Graph');
        await page.click('radio', 'Scene');
        await page.click('radio', 'Skeleton');
        await page.click('button', 'View');
        await page.find('radio', 'Perspective');
      },
    ],
    [
      'the shelf of projects',
      async () => {
        await page.click('button', 'Close View');
        await page.click('radio', 'Solid');
        await page.click('button', /^Project Sorting gate/);
        await page.click('menuitem', /^Projects, examples/);
        await page.until('the shelf', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length > 0);
      },
    ],
    [
      'Scripts',
      async () => {
        await page.driver.actions().sendKeys(Key.ESCAPE).perform();
        await page.click('button', /^Project Sorting gate/);
        await page.click('menuitem', 'Scripts…');
        await page.until('the editor', async () => (await page.driver.findElements(By.css('.cm-content'))).length > 0);
      },
    ],
    [
      'Copies',
      async () => {
        await page.driver.actions().sendKeys(Key.ESCAPE).perform();
        await page.click('tab', /^Bodies/);
        await page.script(`document.querySelector('tr[data-row="Crank"]').focus()`);
        await page.click('button', 'Copies…');
        await page.find('radio', 'Mirrored');
      },
    ],
    [
      'a kit being made',
      async () => {
        await page.driver.actions().sendKeys(Key.ESCAPE).perform();
        // of a single body its menu offers it
        const offered = await page.find('button', 'Kit…', 1500, 1).then(
          () => true,
          () => false,
        );
        if (!offered)
          await page.driver
            .actions()
            .keyDown(Key.CONTROL)
            .click(await page.driver.findElement(By.css('tr[data-row="Coupler"]')))
            .keyUp(Key.CONTROL)
            .perform();
        await page.click('button', 'Kit…');
        await page.find('textbox', 'Name of the kit');
      },
    ],
    [
      'an instance on the Card',
      async () => {
        await page.click('button', 'Make the kit');
        await page.find('button', 'Make independent');
      },
    ],
    [
      'an open kit',
      async () => {
        await page.click('button', 'Open its kit');
        await page.find('button', /^Back to/);
      },
    ],
    [
      'the shelf of kits',
      async () => {
        await page.click('button', /^Back to/);
        await page.click('button', /^Project Sorting gate/);
        await page.click('menuitem', 'Kits…');
        await page.until('the kits', async () => (await page.driver.findElements(By.css('[role=dialog] li'))).length > 0);
        await page.driver.sleep(300);
      },
    ],
    [
      'Import',
      async () => {
        await page.driver.actions().sendKeys(Key.ESCAPE).perform();
        await page.click('button', 'Undo');
        await page.driver
          .findElement(By.css('input[aria-label="Open a model file"]'))
          .sendKeys(`${process.cwd()}/examples/sorting-gate.step`);
        await page.until('the parts', async () => (await page.text('[role=dialog]')).includes('6 parts'), 30_000);
      },
    ],
    [
      'the / line',
      async () => {
        await page.driver.actions().sendKeys(Key.ESCAPE).perform();
        await page.click('button', /Find or add/);
        await page.until('the line', async () => (await page.driver.findElements(By.css('[role=dialog] input'))).length > 0);
      },
    ],
    [
      'Readings after a run',
      async () => {
        await (await page.driver.findElement(By.css('[role=dialog] input'))).sendKeys(Key.ESCAPE);
        await page.run();
        await page.click('button', 'Readings');
        await page.driver.sleep(800);
      },
    ],
    [
      'Readings with cursors, a score, a limit and a working',
      async () => {
        for (const what of ['Add a score', 'Add a limit', 'Add a working']) await page.click('button', what);
        await page.click('button', 'Put cursors on the last strokes');
        await page.click('button', 'What moves it');
        await page.until('numbers', async () => (await page.driver.findElements(By.css('[data-number]'))).length > 0, 120_000);
        await page.driver.sleep(500);
      },
    ],
    [
      'a sheet with a tile on the Card',
      async () => {
        await page.click('button', 'Add a sheet');
        await page.driver.sleep(200);
        await page.click('menuitem', /^Stroke timing/);
        await page.click('button', 'Strokes');
        await page.driver.sleep(800);
      },
    ],
    [
      'Workings',
      async () => {
        await page.click('button', 'Workings');
        await page.find('button', 'Add a working');
        await page.driver.sleep(500);
      },
    ],
    [
      'Readings handed over: loads',
      async () => {
        await page.click('button', 'Readings');
        await page.click('button', 'Undo');
        await page.find('tab', 'All gauges');
        await page.clickIf('button', 'Close the Card');
        await page.menu('Export…', /^Loads on a body…/);
        await page.find('combobox', 'Body whose loads');
      },
    ],
  ];
  for (const [name, open] of views)
    it(`no violation in ${name}, in either theme`, async () => {
      await open();
      expect(await violations({ type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] })).toEqual([]);
      await otherTheme();
      expect(await violations({ type: 'rule', values: ['color-contrast'] })).toEqual([]);
      await otherTheme();
    });
});
