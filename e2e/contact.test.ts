/** Contact, as a new user meets it: from an empty project by the / line to a ball that bounces, is read, and rests. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, Key, Page } from './browser';
import { boxStl } from './box-stl';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const LINE = By.css('[role=combobox][aria-label="Find or add"]');
const say = async (text: string) => {
  await page.driver.actions().sendKeys('/').perform();
  const line = await page.until('the line', async () => (await page.driver.findElements(LINE))[0]);
  await line.sendKeys(text, Key.ENTER, Key.ESCAPE);
  await page.until('the line is gone', async () => (await page.driver.findElements(LINE)).length === 0);
};
const findings = () => page.text('body');

describe('a ball over a slab', () => {
  it('falls through what it has no contact with, and is told to be loose', async () => {
    await page.click('button', /^Project /);
    await page.click('menuitem', 'New empty project');
    await page.find('button', /^Show me/);
    for (const line of [
      'point Middle at 0, 0, 500 mm',
      'point Slab at 0, 0, -20 mm',
      'sphere Ball at Middle radius 60 mm',
      'box Floor in Ground at Slab length 1 m depth 600 mm height 40 mm',
    ])
      await say(line);
    await page.until('the finding', async () =>
      (await findings()).includes('tied to nothing: no joint, no spring and no contact holds it'),
    );
  });
  it('is seen to have gone through it by a run, which offers the contact that was missed, and runs again with it', async () => {
    expect(await page.run()).toMatch(/done/);
    await page.until('the finding', async () => /Ball: Run 1: “Ball” passed through “Frame” at 0\.30\d s\./.test(await findings()));
    await page.click('button', 'Add contact and run');
    await page.until('the second run', async () => /Run 2 done/.test(await findings()));
    await page.until('no findings', async () => (await findings()).includes('No findings'));
    await page.click('button', 'Undo');
  });
  it('is in contact with it by one line, and then nothing is found', async () => {
    await say('contact between Ground and Ball');
    await page.until('no findings', async () => (await findings()).includes('No findings'));
    await page.find('textbox', 'Stiffness');
  });
  it('bounces: every impact stands on the timeline, and it comes to rest on the slab', async () => {
    await say('gauge contact on Frame to Ball contact');
    expect(await page.run()).toMatch(/done/);
    const marks = await page.until('the impacts', async () => {
      const found = await page.driver.findElements(By.css('[aria-label*="meets"], [title*="meets"]'));
      return found.length > 3 ? found.length : undefined;
    });
    expect(marks).toBeLessThan(30);
  });
  it('is told when it starts deep in the slab', async () => {
    await page.click('tab', /^Points/);
    await page.type('Coordinates z of Middle', '50 mm');
    await page.until('the finding', async () => /overlap by 10 mm at the start/.test(await findings()));
    await page.click('button', 'Undo');
    await page.until('no findings', async () => (await findings()).includes('No findings'));
  });
});

describe('an imported part', () => {
  it('falls on a floor without end, and lies there', async () => {
    const fresh = await Page.open(),
      line = async (text: string) => {
        await fresh.driver.actions().sendKeys('/').perform();
        const found = await fresh.until('the line', async () => (await fresh.driver.findElements(LINE))[0]);
        await found.sendKeys(text, Key.ENTER, Key.ESCAPE);
        await fresh.until('the line is gone', async () => (await fresh.driver.findElements(LINE)).length === 0);
      };
    try {
      await fresh.find('button', 'Run');
      await fresh.click('button', /^Project /);
      await fresh.click('menuitem', 'New empty project');
      await fresh.find('button', /^Show me/);
      const file = join(fresh.downloads, 'block.stl');
      writeFileSync(file, boxStl([60, 80, 40]));
      await fresh.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(file);
      await fresh.until('the dialog', async () => (await fresh.text('[role=dialog]')).includes('The file has no unit'));
      await fresh.click('button', 'Import');
      await fresh.until('drawn', async () => (await fresh.script<[number, number] | null>("return window.vimPivotSpot('Part')")) !== null);
      for (const text of ['point Below at 0, 0, -100 mm', 'floor Yard in Ground at Below', 'contact between Ground and Part'])
        await line(text);
      await fresh.until('the card', async () => (await fresh.text('body')).includes('One pair of bodies may touch.'));
      expect(await fresh.run()).toMatch(/done/);
      const marks = await fresh.until('the impact', async () => {
        const found = await fresh.driver.findElements(By.css('[title*="meets Yard"]'));
        return found.length > 0 ? found.length : undefined;
      });
      expect(marks).toBeGreaterThan(0);
    } finally {
      await fresh.close();
    }
  });
});

describe('a file with contact in it', () => {
  it('opens in a page that has met none before, and runs: the fruit lands in its crate', async () => {
    const fresh = await Page.open();
    try {
      await fresh.find('button', 'Run');
      await fresh.driver
        .findElement(By.css('input[aria-label="Open a model file"]'))
        .sendKeys(`${process.cwd()}/examples/fruit-drop.pivot.json`);
      await fresh.find('button', 'Project Fruit drop');
      expect(await fresh.run()).toMatch(/done/);
      await fresh.click('button', 'Readings');
      await fresh.until('the score', async () => (await fresh.text('section[aria-label=Scores]')).includes('Hardest knock'));
      expect(await fresh.text('section[aria-label=Scores]')).toMatch(/Where it rests\s*1488\.5 mm/);
    } finally {
      await fresh.close();
    }
  });
});
