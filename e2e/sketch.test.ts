/** Drawing linkages in the scene as on paper, by mouse and by keys; what it takes is counted. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { By, Key, Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

/** What a user did since the project was begun: presses of the mouse, strokes, keys and texts typed. */
let actions = 0;
let sheet = { x: 0, ground: 0 };
const act = async (what: Promise<unknown>) => {
  actions++;
  await what;
};
const press = (role: string, name: string | RegExp) => act(page.click(role, name));
const keys = (...k: string[]) =>
  act(
    page.driver
      .actions()
      .sendKeys(...k)
      .perform(),
  );
const at = (x: number, y: number) => ({ x: Math.round(sheet.x + x), y: Math.round(sheet.ground - y) });
/** A stroke; places are CSS pixels from the left edge and above the ground. */
const stroke = async (from: [number, number], to: [number, number]) => {
  await act(
    page.driver
      .actions()
      .move(at(...from))
      .press()
      .move({ ...at((from[0] + to[0]) / 2, (from[1] + to[1]) / 2), duration: 40 })
      .move({ ...at(...to), duration: 40 })
      .release()
      .perform(),
  );
  await known();
};
const click = (x: number, y: number) => act(page.driver.actions().move(at(x, y)).click().perform());
const count = async (family: string) => Number(/\d+/.exec(await (await page.find('tab', new RegExp(`^${family}`))).getText())?.[0]);
/** The engine has looked at what was drawn. */
const known = () =>
  page.until(
    'what was drawn is checked',
    async () => !(await page.script<boolean>('return !!document.querySelector("[data-testid=sketch][data-busy]")')),
  );
const mobility = () => page.text('button[title^="Degrees of freedom"]');
const tip = () => page.text('[data-testid=sketch] > [role=status]');
const bodies = async () => {
  await page.click('tab', /^Bodies/);
  return page.script<string[]>('return [...document.querySelectorAll("tr[data-row]")].map((r) => r.dataset.row)');
};

const begin = async () => {
  await page.click('button', /^Project /);
  await page.click('menuitem', 'New empty project');
  await page.find('button', /^Show me/);
  actions = 0;
  await press('button', /^By drawing/);
  await page.until('the sheet', async () => {
    sheet = await page.script<typeof sheet>(
      'return { x: document.querySelector("[data-testid=sketch]").getBoundingClientRect().x, ground: document.querySelector("[data-ground] path").getBoundingClientRect().y }',
    );
    return sheet.ground > 200;
  });
};
const fourBar = async () => {
  await stroke([250, 0], [280, 60]);
  await stroke([280, 60], [570, 160]);
  await stroke([620, 0], [570, 160]);
};

describe('by mouse', () => {
  beforeEach(begin);

  it('a four-bar with its motor runs after at most twelve actions', async () => {
    await fourBar();
    await page.until('one degree of freedom', async () => /Mobility 1 · no drive/.test(await mobility()));
    await click(250, 0);
    await press('button', 'Motor');
    await act(page.click('button', 'Run'));
    expect(await page.until('the run', async () => /done/.test(await page.status()) && page.status())).toMatch(/done/);
    expect(actions).toBeLessThanOrEqual(12);
    expect(await mobility()).toMatch(/Mobility 1 · driven by Motor/);
    expect(await bodies()).toEqual(['Crank', 'Coupler', 'Rocker']);
  });

  it('a six-bar runs after at most twenty', async () => {
    await fourBar();
    await stroke([425, 110], [430, 230]);
    await stroke([430, 230], [720, 230]);
    await stroke([760, 0], [720, 230]);
    await page.until('one degree of freedom', async () => /Mobility 1 · no drive/.test(await mobility()));
    await click(250, 0);
    await press('button', 'Motor');
    await act(page.click('button', 'Run'));
    expect(await page.until('the run', async () => /done/.test(await page.status()) && page.status())).toMatch(/done/);
    expect(actions).toBeLessThanOrEqual(20);
    expect((await bodies()).length).toBe(5);
  });

  it('it says what letting go would do, each stroke is one undo step, and a click picks', async () => {
    await stroke([250, 0], [310, 105]);
    await page.driver
      .actions()
      .move(at(310, 105))
      .press()
      .move({ ...at(500, 150), duration: 60 })
      .perform();
    expect(await tip()).toMatch(/^Let go: a free end\. Leaves 2 degrees of freedom\.$/);
    await page.driver
      .actions()
      .move({ ...at(500, 2), duration: 60 })
      .perform();
    expect(await tip()).toMatch(/^Let go: a bearing on the ground\. Leaves 0 degrees of freedom\.$/);
    await page.driver.actions().sendKeys(Key.ESCAPE).release().perform();
    expect(await count('Bodies')).toBe(1);
    await page.driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await page.until(
      'it is taken back',
      async () => (await count('Bodies')) === 0 && (await count('Points')) === 0 && (await count('Joints')) === 0,
    );
    await page.driver.actions().keyDown(Key.CONTROL).sendKeys('y').keyUp(Key.CONTROL).perform();
    await page.until('it is back', async () => (await count('Bodies')) === 1 && (await count('Joints')) === 1);
    await click(280, 52);
    await page.until(
      'the crank is picked',
      async () => (await page.script<string>('return document.querySelector("section[aria-label=Card] input").value')) === 'Crank',
    );
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.until('the sheet is gone', async () => (await page.driver.findElements(By.css('[data-testid=sketch]'))).length === 0);
  });

  it('a slide along the ground, a rod to it, and a bearing at a free end', async () => {
    await stroke([250, 0], [310, 105]);
    await stroke([560, 0], [640, 0]);
    await stroke([310, 105], [600, 0]);
    await page.until('a slider-crank', async () => /Mobility 1/.test(await mobility()));
    expect(await bodies()).toEqual(['Crank', 'Slider', 'Rod']);
    await stroke([300, 250], [400, 250]);
    await press('button', 'Bearing at its end');
    await page.until('two degrees of freedom', async () => /Mobility 2/.test(await mobility()));
  });

  it('lengths are typed while drawing, on labels, and become parameters on request', async () => {
    await press('button', 'Lengths as parameters');
    await page.driver
      .actions()
      .move(at(250, 0))
      .press()
      .move({ ...at(300, 100), duration: 40 })
      .sendKeys('60; 60')
      .perform();
    expect(await page.text('output[aria-label="Length and angle"]')).toBe('60; 60|');
    await page.driver.actions().release().perform();
    await known();
    await page.click('tab', /^Parameters/);
    expect(await (await page.find('textbox', 'Value of crank_length')).getAttribute('value')).toBe('60 mm');
    await page.click('button', '60 mm');
    await page.type('Length of Crank', '75 mm');
    await page.until(
      'the parameter follows',
      async () => (await (await page.find('textbox', 'Value of crank_length')).getAttribute('value')) === '75 mm',
    );
    await page.find('button', '75 mm');
  });
});

describe('by keys alone', () => {
  beforeEach(begin);
  it('place, next, confirm: a bar, then a plate on its end', async () => {
    await known();
    await keys(Key.ENTER, Key.ARROW_UP, Key.ARROW_UP, Key.ARROW_UP, Key.ARROW_UP, Key.ARROW_UP, Key.ARROW_UP, Key.ENTER);
    await page.until('a crank', async () => (await count('Bodies')) === 1);
    await known();
    const far = Key.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await keys(' ', far, far, ' ', Key.chord(Key.SHIFT, Key.ARROW_UP), Key.ENTER);
    await page.until('a plate', async () => (await count('Bodies')) === 2);
    await known();
    expect(await mobility()).toMatch(/Mobility 2/);
    await page.click('tab', /^Shapes/);
    expect(await page.text('[aria-label=Ledger]')).toMatch(/Plate/);
  });
});

it('another standard view is another sheet', async () => {
  await begin();
  await page.click('radio', 'Top');
  await page.until('from above', async () => /in Top/.test(await page.text('[aria-label=Sketch]')));
  sheet = await page.script<typeof sheet>(
    'return { x: document.querySelector("[data-testid=sketch]").getBoundingClientRect().x, ground: document.querySelector("[data-ground] path").getBoundingClientRect().y }',
  );
  await stroke([400, 0], [480, 120]);
  await page.click('tab', /^Joints/);
  expect(await (await page.find('textbox', /^Axis z of Frame to Crank/)).getAttribute('value')).toBe('1');
});

it('a flat face that is picked is the sheet', async () => {
  await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.click('button', /^Project /);
  await page.click('menuitem', 'New empty project');
  await page.find('button', /^Show me/);
  for (const text of ['point Middle at 100 mm, 0, 50 mm', 'box Block at Middle length 200 mm depth 60 mm height 100 mm']) {
    await page.driver.actions().sendKeys('/').perform();
    await (
      await page.until('the line', async () => (await page.driver.findElements(By.css('[role=combobox][aria-label="Find or add"]')))[0])
    ).sendKeys(text, Key.ENTER, Key.ESCAPE);
    await page.until(
      'the line is gone',
      async () => (await page.driver.findElements(By.css('[role=combobox][aria-label="Find or add"]'))).length === 0,
    );
  }
  await page.until('the block stands', async () => (await count('Bodies')) === 1);
  await page.click('radio', 'Front');
  const spot = () =>
    page.script<[number, number]>(
      'const r = document.querySelector("[data-testid=scene] canvas").getBoundingClientRect(), p = vimPivotSpot("Block"); return p && [Math.round(r.x + p[0]), Math.round(r.y + p[1])]',
    );
  const [x, y] = await page.until('the block is in the scene', spot);
  await page.until('its face is picked', async () => {
    await page.driver
      .actions()
      .move({ x: x + 41, y: y - 20 })
      .click()
      .perform();
    return /flat face/.test(await page.text('section[aria-label=Card]'));
  });
  await page.click('radio', 'Sketch');
  await page.until('on the face', async () => /on the face/.test(await page.text('[aria-label=Sketch]')));
  sheet = { x: 0, ground: y };
  await stroke([300, 60], [500, 60]);
  await page.until('a bar', async () => (await count('Bodies')) === 2);
  await page.click('tab', /^Points/);
  // the front of the block is 30 mm before its middle
  expect(await (await page.find('textbox', 'Coordinates y of Bar start')).getAttribute('value')).toBe('-30 mm');
});

it('says where the machine is shown as drawn and its joints will move it; a linkage drawn closed is as drawn', async () => {
  await begin();
  await fourBar();
  expect(await page.text('[aria-label=Sketch]')).not.toContain('As drawn');
  await page.driver
    .findElement(By.css('input[aria-label="Open a model file"]'))
    .sendKeys(`${process.cwd()}/examples/sorting-gate.pivot.json`);
  await page.find('button', 'Project Sorting gate');
  await page.until('assembled', async () => (await mobility()).startsWith('Mobility 1'));
  await page.click('radio', 'Sketch');
  await page.until('as drawn', async () => (await page.text('[aria-label=Sketch]')).includes('As drawn; its joints will move it'));
});
