/** Live runs: values dragged in their fields and by sliders, the run following; one run kept at the end, the one before it as a ghost. */
import { By, Key, Origin } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run', 20_000);
  await page.run();
  await page.clickIf('button', 'Pause');
  await page.click('tab', /^Parameters/);
});
afterAll(() => page?.close());

const value = (name: string) => page.script<string>(`return document.querySelector('input[aria-label="Value of ${name}"]').value`);
const kept = async (): Promise<string[]> => {
  await page.click('button', 'Readings');
  const names = await page.until('the runs', async () => {
    const list = await page.script<string[]>(
      `return [...document.querySelectorAll('section[aria-label=Runs] li')].map((li) => li.textContent.match(/Run \\d+/)?.[0] ?? li.textContent)`,
    );
    return list.length > 0 && list;
  });
  await page.click('button', 'Build');
  return names;
};
/** The hand goes sideways from an element in steps. */
async function drag(css: string, px: number, during?: () => Promise<unknown>): Promise<void> {
  const from = await page.until(css, async () => (await page.driver.findElements(By.css(css)))[0]);
  const hand = page.driver.actions({ async: true }).move({ origin: from }).press();
  for (let i = 1; i <= 8; i++) hand.move({ origin: Origin.POINTER, x: px / 8, y: 0, duration: 40 });
  await hand.perform();
  await during?.();
  await page.driver.actions().release().perform();
}

describe('while the hands rest', () => {
  /** Machines that the worker was asked to make ready for. */
  const asked = () => page.script<number>('return window.madeReady');
  it('a machine of other elements is made ready to be run; one of other numbers is ready', async () => {
    await page.script(`
      window.madeReady = 0;
      const send = Worker.prototype.postMessage;
      Worker.prototype.postMessage = function (message, ...rest) {
        if (message?.type === 'ready') window.madeReady++;
        return send.call(this, message, ...rest);
      };`);
    // what is asked for at the start may still come
    await page.driver.sleep(2500);
    const before = await asked();
    await page.type('Value of arm', '61 mm');
    await page.driver.sleep(2500);
    expect(await asked()).toBe(before);
    await page.click('button', 'Undo');
    await page.click('tab', /^Loads/);
    await page.click('button', /^Switch Return spring/);
    await page.until('ready', async () => (await asked()) === before + 1, 30_000);
    await page.click('button', 'Undo');
    await page.until('ready again', async () => (await asked()) === before + 2, 30_000);
    await page.click('tab', /^Parameters/);
  });
});

describe('a number in its field', () => {
  it('is dragged sideways as one undo step, and edited where it is only clicked', async () => {
    await drag('input[aria-label="Value of rail_height"]', 40);
    await page.until('larger', async () => parseFloat(await value('rail_height')) > 160);
    expect(await value('rail_height')).toMatch(/^\d+(\.\d+)? mm$/);
    await page.click('button', 'Undo');
    await page.until('as it was', async () => (await value('rail_height')) === '150 mm');
    const input = await page.driver.findElement(By.css('input[aria-label="Value of rail_height"]'));
    await input.click();
    expect(await page.script<boolean>('return document.activeElement === arguments[0]', input)).toBe(true);
    await input.sendKeys('155', Key.ENTER);
    await page.until('typed', async () => (await value('rail_height')) === '155 mm');
    await page.click('button', 'Undo');
  });
  it('goes back where Escape is pressed meanwhile; a formula is not dragged', async () => {
    await drag('input[aria-label="Value of span"]', 40, async () => {
      await page.until('larger', async () => parseFloat(await value('span')) > 210);
      await page.driver.actions().sendKeys(Key.ESCAPE).perform();
      await page.until('back', async () => (await value('span')) === '200 mm');
    });
    expect(await value('span')).toBe('200 mm');
    await drag('input[aria-label="Value of coupler_length"]', 40);
    expect(await value('coupler_length')).toBe('3*arm + 10 mm');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  });
});

describe('with Live on', () => {
  it('the run follows the hand, and one run is kept of where it ended, the one before as a ghost', async () => {
    await page.click('button', 'Live');
    await drag('input[aria-label="Value of gate_speed"]', 40, async () => {
      await page.until('a live run', async () => /^Live done/.test(await page.status()));
      // where the scene stood in time, it stands
      expect(await page.text('[aria-label="Time shown"]')).not.toBe('');
    });
    await page.until('the run of the end', async () => /^Run 2 done/.test(await page.status()), 60_000);
    expect(parseFloat(await value('gate_speed'))).toBeGreaterThan(95);
    expect(await kept()).toEqual(['Run 2', 'Run 1']);
    await page.click('button', 'Readings');
    expect(await (await page.find('button', 'Overlay run 1')).getAttribute('aria-pressed')).toBe('true');
    await page.click('button', 'Build');
  });
  it('a slider moves a parameter, and the run follows it too', async () => {
    const row = await page.driver.findElement(By.css('tr[data-row="arm"]'));
    await page.script('arguments[0].focus()', row);
    await row.click();
    await page.click('button', 'Slider');
    await drag('[role=slider][aria-label="arm by hand"]', -16, () =>
      page.until('a live run', async () => /^Live done/.test(await page.status())),
    );
    expect(parseFloat(await value('arm'))).toBeLessThan(60);
    await page.until('the run of the end', async () => /^Run 3 done/.test(await page.status()), 60_000);
    expect(await kept()).toEqual(['Run 3', 'Run 2', 'Run 1']);
  });
  it('a point dragged in the scene is followed too', async () => {
    await page.click('tab', /^Points/);
    await page.script(`document.querySelector('tr[data-row="Yoke tip"]').focus()`);
    await page.until('its Card', async () => (await page.text('section[aria-label=Card]')).includes('point'));
    // in the plane of the machine, and the view at rest
    await page.click('radio', 'Front');
    await page.driver.sleep(600);
    const canvas = await page.driver.findElement(By.css('canvas')),
      box = await canvas.getRect(),
      [x, y] = await page.script<[number, number]>("return window.vimPivotPoint('Yoke tip')"),
      from = { x: Math.round(x - box.width / 2), y: Math.round(y - box.height / 2) };
    const before = (await page.status()) ?? '';
    await page.driver
      .actions()
      .move({ origin: canvas, ...from })
      .press()
      .move({ origin: canvas, x: from.x + 3, y: from.y - 4, duration: 200 })
      .move({ origin: canvas, x: from.x + 5, y: from.y - 8, duration: 200 })
      .perform();
    await page.until('a live run', async () => /^Live done/.test(await page.status()));
    await page.driver.actions().release().perform();
    expect(before).toMatch(/^Run 3 done/);
    await page.until('the run of the end', async () => /^Run 4 done/.test(await page.status()), 60_000);
    await page.click('tab', /^Parameters/);
  });
  it('a formula is offered no slider', async () => {
    const row = await page.driver.findElement(By.css('tr[data-row="coupler_length"]'));
    await page.script('arguments[0].focus()', row);
    await row.click();
    await page.until('its Card', async () => (await page.text('section[aria-label=Card]')).includes('coupler_length'));
    expect(
      await page.script<boolean>(
        "return [...document.querySelectorAll('section[aria-label=Card] button')].some((b) => b.textContent === 'Slider')",
      ),
    ).toBe(false);
    await page.driver.findElement(By.css('tr[data-row="arm"]')).click();
  });
  it('what moves nothing runs nothing', async () => {
    const before = await page.status();
    await page.type('Note', 'From axis to foot');
    await page.driver.sleep(1500);
    expect(await page.status()).toBe(before);
    await page.click('button', 'Undo');
  });
  it('is off by itself with a word where a run takes too long to follow', async () => {
    await page.type('End time', '5000 s');
    await page.until('off', async () => (await (await page.find('button', 'Live')).getAttribute('aria-pressed')) === 'false', 60_000);
    await page.until('why', async () => (await page.text('body')).includes('Live was switched off'));
  });
});
