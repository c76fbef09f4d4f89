/** The scene worked in as a user does: skeleton, section, hiding, names, dragging points, edges and faces, measuring, handles. */
import { By, Key, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page, canvas: WebElement, box: { width: number; height: number };
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  await page.until('the scene', () => page.script<boolean>('return !!window.vimPivotFrames && window.vimPivotFrames() > 0'));
  canvas = await page.driver.findElement(By.css('canvas'));
  box = await canvas.getRect();
});
afterAll(() => page?.close());

const rel = ([x, y]: readonly [number, number], dx = 0, dy = 0) => ({
  x: Math.round(x + dx - box.width / 2),
  y: Math.round(y + dy - box.height / 2),
});
const spot = (body: string) => page.script<[number, number]>('return window.vimPivotSpot(arguments[0])', body);
const pointSpot = (point: string) => page.script<[number, number]>('return window.vimPivotPoint(arguments[0])', point);
const card = () => page.text('section[aria-label="Card"]');
const clickAt = async (at: { x: number; y: number }, ...keys: string[]) => {
  const a = page.driver
    .actions()
    .move({ origin: canvas, x: at.x + 2, y: at.y })
    .move({ origin: canvas, ...at });
  for (const k of keys) a.keyDown(k);
  a.click();
  for (const k of keys) a.keyUp(k);
  await a.perform();
};
const labels = () =>
  page.script<string[]>(
    `return [...document.querySelectorAll('[data-testid=labels] span')].filter((e) => e.style.display !== 'none').map((e) => e.textContent)`,
  );
/** Share of the scene's pixels whose colour passes a test, in what is on the screen. */
const share = async (test: string) =>
  page.driver.executeAsyncScript<number>(
    `
  const [shot, done] = arguments, r0 = document.querySelector('canvas').getBoundingClientRect(), img = new Image();
  img.onload = () => {
    const k = document.createElement('canvas'); k.width = r0.width; k.height = r0.height;
    const g = k.getContext('2d'); g.drawImage(img, -r0.left, -r0.top);
    const d = g.getImageData(0, 0, k.width, k.height).data; let n = 0;
    for (let i = 0; i < d.length; i += 4) { const [r, gr, b] = [d[i], d[i + 1], d[i + 2]]; if (${test}) n++; }
    done(n / (d.length / 4));
  };
  img.src = 'data:image/png;base64,' + shot;`,
    await page.driver.takeScreenshot(),
  );

describe('seeing', () => {
  it('draws the skeleton in one more draw call, and the solids again', async () => {
    await page.click('radio', 'Skeleton');
    await page.until(
      'fewer colours of faces',
      async () =>
        (await page.script<string>('return document.querySelector(\'[aria-label="Drawn as"] [data-state=on]\').textContent')) ===
        'Skeleton',
    );
    await page.driver.sleep(600);
    expect(await page.script<number>('return window.vimPivotCalls()')).toBeLessThan(14);
    await page.click('radio', 'Solid');
  });

  it('shows names by kind, turns another axis up as an undoable edit, and cuts a section', async () => {
    await page.click('button', 'View');
    await page.find('radio', 'Perspective');
    const boxes = await page.driver.findElements(By.css('section[aria-label=View] [role=checkbox]'));
    await boxes[0]!.click();
    await page.until('names of bodies', async () => (await labels()).includes('Pusher'));
    await boxes[0]!.click();
    await page.until('none', async () => (await labels()).length === 0);
    const up = await page.driver.findElements(By.css('section[aria-label=View] [aria-label="Axis that points up"] button'));
    await up[1]!.click();
    await page.until(
      'a note about gravity',
      async () =>
        (await page.text('section[aria-label=Checks]')).length > 0 &&
        page.script<boolean>("return document.querySelector('[aria-label=\"Axis that points up\"] [data-state=on]').textContent === 'y'"),
    );
    await page.click('button', 'Undo');
    await page.until('z again', () =>
      page.script<boolean>("return document.querySelector('[aria-label=\"Axis that points up\"] [data-state=on]').textContent === 'z'"),
    );
    await page.click('radio', 'Perspective');
    const cut = await page.driver.findElements(By.css('section[aria-label=View] [aria-label="Section square to"] button'));
    await cut[2]!.click();
    await page.find('slider', 'Section at y');
    await cut[0]!.click();
    await page.click('radio', 'Parallel');
    await page.click('button', 'Close View');
  });

  it('hides a body, shows it alone, sees through it', async () => {
    // the yoke is the only thing of its colour
    const ochre = 'r > 150 && gr > 100 && gr < 190 && b < 100 && r - b > 80 && r - gr > 20 && r - gr < 80';
    const before = await share(ochre);
    expect(before).toBeGreaterThan(0.0005);
    await clickAt(rel(await spot('Yoke')));
    await page.find('button', 'Hide');
    await page.click('button', 'Hide');
    await page.driver.sleep(300);
    expect(await share(ochre)).toBeLessThan(0.5 * before);
    await page.click('button', 'Hide');
    const teal = 'b > r + 40 && gr > r + 40 && b > 80';
    const all = await share(teal);
    await page.click('button', 'Alone');
    await page.driver.sleep(300);
    expect(await share(teal)).toBeLessThan(0.6 * all);
    await page.click('button', 'Alone');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  });
});

describe('points', () => {
  it('are dragged with snapping, as one undo step, and coordinates that are formulas stay', async () => {
    await page.click('tab', /^Points/);
    await (await page.driver.findElement(By.css('tr[data-row="Yoke tip"]'))).sendKeys('');
    await page.script(`document.querySelector('tr[data-row="Yoke tip"]').focus()`);
    await page.until('the point selected', async () => (await card()).includes('point'));
    await page.driver.sleep(600);
    const value = () =>
      page.script<string[]>(`return [...document.querySelectorAll('section[aria-label=Card] input')].map((e) => e.value)`);
    const before = await value();
    const from = rel(await pointSpot('Yoke tip'));
    await page.driver
      .actions()
      .move({ origin: canvas, ...from })
      .press()
      .move({ origin: canvas, x: from.x + 14, y: from.y - 18, duration: 250 })
      .move({ origin: canvas, x: from.x + 18, y: from.y - 30, duration: 250 })
      .perform();
    await page.until('told where it is', async () => /Yoke tip: .*mm/.test(await page.text('[data-testid=scene]')));
    await page.driver.actions().release().perform();
    await page.until('moved', async () => JSON.stringify(await value()) !== JSON.stringify(before));
    const after = await value();
    // x is the formula yoke_reach
    expect(after[1]).toBe(before[1]);
    expect(after.slice(2).join()).toMatch(/mm/);
    await page.click('button', 'Undo');
    await page.until('back in one step', async () => JSON.stringify(await value()) === JSON.stringify(before));
  });
});

describe('edges and faces', () => {
  it('of a selected body answer to the pointer; a point is put at a centre, a joint on an axis', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE, Key.ESCAPE).perform();
    const at = rel(await spot('Rocker'), 0, 24);
    await clickAt(at);
    await page.until('the body', async () => (await card()).includes('body'));
    await page.driver.sleep(500);
    await clickAt(at); // asks for the features
    await page.until(
      'a face',
      async () => {
        await clickAt(at);
        return /Flat face/.test(await card());
      },
      8000,
    );
    expect(await card()).toMatch(/mm²/);
    expect(await card()).toMatch(/Revolute/);
    const count = async (tab: RegExp) => Number(/\d+/.exec(await (await page.find('tab', tab)).getText())![0]);
    const joints = await count(/^Joints/),
      points = await count(/^Points/);
    await page.click('button', /^Revolute Frame/);
    await page.until('a joint more', async () => (await count(/^Joints/)) === joints + 1 && (await count(/^Points/)) === points + 1);
    await page.click('button', 'Undo');
    await page.until('undone in one step', async () => (await count(/^Joints/)) === joints && (await count(/^Points/)) === points);
  });

  it('measures between two points at the posture shown', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('tab', /^Points/);
    const row = (name: string) => page.driver.findElement(By.css(`tr[data-row="${name}"] td:nth-child(4)`));
    await page.driver
      .actions()
      .move({ origin: await row('Motor axis') })
      .click()
      .keyDown(Key.CONTROL)
      .move({ origin: await row('Rocker foot') })
      .click()
      .keyUp(Key.CONTROL)
      .perform();
    // 200 mm along x, 40 mm down
    await page.until('the distance', async () =>
      /Distance\s*204 mm/.test((await page.text('dl[aria-label=Measured]')).replaceAll('\n', ' ')),
    );
  });
});

describe('handles and menu', () => {
  it('opens a menu on a body with the right button, and moves it with handles as one undo step', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.driver
      .actions()
      .move({ origin: canvas, ...rel(await spot('Pusher'), 22, 14) })
      .contextClick()
      .perform();
    await page.find('menuitem', 'Hide');
    await page.click('menuitem', 'Move with handles');
    await page.find('button', 'Move');
    await page.until('handles on', () =>
      page.script<boolean>(
        `return [...document.querySelectorAll('section[aria-label=Card] button')].some((b) => b.textContent === 'Move' && b.getAttribute('aria-pressed') === 'true')`,
      ),
    );
  });
});

describe('handles and keys', () => {
  const rotation = () =>
    page.script<string[]>(
      `return [...document.querySelectorAll('section[aria-label=Card] input[aria-label^=Rotation]')].map((e) => e.value)`,
    );
  const pointX = async (name: string) => (await (await page.find('textbox', `Coordinates x of ${name}`)).getAttribute('value'))!;

  it('an arrow dragged moves the ground points a body hangs on, as one undo step', async () => {
    // a post of its own on two ground points, seen from the front so that x goes across the screen
    await page.driver.actions().sendKeys(Key.ESCAPE, Key.ESCAPE).perform();
    await page.click('button', /Find or add/);
    const line = await page.until('the line', () => page.driver.findElement(By.css('[role=dialog] input')));
    for (const s of ['point Post foot at 100, 0, 300 mm', 'point Post head at 100, 0, 400 mm', 'link Post from Post foot to Post head']) {
      await line.sendKeys(s);
      await page.until(
        `“${s}” is not understood`,
        async () => (await page.text('[role=option][aria-selected=true]')).startsWith('Add'),
        3000,
      );
      await line.sendKeys(Key.ENTER);
    }
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('radio', 'Front');
    await page.click('tab', /^Bodies/);
    await page.until('the post', async () => (await page.driver.findElements(By.css('tr[data-row="Post"]'))).length > 0);
    await page.script(`document.querySelector('tr[data-row="Post"]').focus()`);
    await page.click('button', 'Move');
    await page.driver.sleep(500);
    const from = rel(await spot('Post'));
    await page.driver
      .actions()
      .move({ origin: canvas, x: from.x + 34, y: from.y })
      .move({ origin: canvas, x: from.x + 36, y: from.y })
      .press()
      .move({ origin: canvas, x: from.x + 60, y: from.y, duration: 200 })
      .move({ origin: canvas, x: from.x + 90, y: from.y, duration: 200 })
      .release()
      .perform();
    await page.click('tab', /^Points/);
    await (await page.find('textbox', 'Filter rows')).sendKeys('Post'); // the rows in sight are all there are
    await page.until(
      'both points have gone along',
      async () => (await pointX('Post foot')) !== '100 mm' && (await pointX('Post head')) === (await pointX('Post foot')),
    );
    await page.click('button', 'Undo');
    await page.until('one undo step', async () => (await pointX('Post foot')) === '100 mm' && (await pointX('Post head')) === '100 mm');
  });

  it('the keyboard moves a point by a step of the grid, turns a body by five degrees, and goes through edges and faces', async () => {
    const key = async (k: string, alt = false) => {
      await page.script('document.querySelector("canvas").focus()');
      const a = page.driver.actions();
      if (alt) a.keyDown(Key.ALT);
      a.sendKeys(k);
      if (alt) a.keyUp(Key.ALT);
      await a.perform();
    };
    await page.script(`document.querySelector('tr[data-row="Post head"]').focus()`);
    await page.until(
      'the point',
      async () => (await page.driver.findElements(By.css('section[aria-label="Card"] input[aria-label="Name of Post head"]'))).length > 0,
    );
    await page.driver.sleep(300);
    await key(Key.ARROW_RIGHT, true);
    await page.until('moved along x', async () => Number.parseFloat(await pointX('Post head')) > 100);
    await page.click('button', 'Undo');
    await (await page.find('textbox', 'Filter rows')).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
    await page.click('tab', /^Bodies/);
    await page.until('the bodies', async () => (await page.driver.findElements(By.css('tr[data-row="Pusher"]'))).length > 0);
    await page.script(`document.querySelector('tr[data-row="Pusher"]').focus()`);
    await page.click('button', 'Turn');
    await page.driver.sleep(300);
    await key(Key.PAGE_UP, true);
    await page.until('turned', async () => (await rotation())[1] === '5 deg');
    await page.click('button', 'Undo');
    await page.until('back', async () => (await rotation())[1] !== '5 deg');
    await key('e');
    const first = await page.until('an edge', async () => /edge|Arc/.test(await card()) && card());
    await key('e');
    await page.until('the next', async () => (await card()) !== first && /edge|face|Arc/i.test(await card()));
    await page.click('button', 'Clear');
  });
});

it('the view is turned and zoomed by keyboard', async () => {
  await page.script('document.querySelector("canvas").focus()');
  const before = await spot('Pusher');
  await page.driver.actions().sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT, '+').perform();
  await page.until('turned', async () => Math.hypot((await spot('Pusher'))[0] - before[0], (await spot('Pusher'))[1] - before[1]) > 8);
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});

describe('after a run', () => {
  it('takes in the whole motion of a run, and the posture alone again', async () => {
    // two points of the frame: how far apart they are on the screen tells how near they are seen
    const apart = async () => {
      const [a, b] = [await pointSpot('Motor axis'), await pointSpot('Rail start')];
      return Math.hypot(a[0] - b[0], a[1] - b[1]);
    };
    await page.run();
    await page.clickIf('button', 'Pause');
    // from one known posture: another might reach as far as the whole motion does
    await page.click('button', 'Back to the start');
    await page.click('button', 'Fit');
    const near = await apart();
    await page.click('button', 'View');
    await page.click('button', 'The whole motion');
    await page.until('seen from further away', async () => (await apart()) < 0.99 * near);
    await page.click('button', 'Close View');
    await page.click('button', 'Fit');
    await page.until('near again', async () => Math.abs((await apart()) / near - 1) < 1e-3);
  });
});
