/** Building a machine in the interface alone: by sentences, and by selecting and then acting. */
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

/** Clicks and entries of the user so far. */
let steps = 0;
const click = async (role: string, name: string | RegExp) => {
  steps++;
  await page.click(role, name);
};
const say = async (text: string) => {
  steps++;
  const line = await page.until('the line', () => page.driver.findElement(By.css('[role=dialog] input')));
  await line.sendKeys(text);
  await page.until(
    `“${text}” is not understood`,
    async () => (await page.text('[role=option][aria-selected=true]')).startsWith('Add'),
    3000,
  );
  await line.sendKeys(Key.ENTER);
};

describe('by sentences', () => {
  it('goes from an empty project to a running four-body mechanism with a motor in at most 25 clicks and entries', async () => {
    await click('button', /Find or add/);
    const line = await page.until('the line', () => page.driver.findElement(By.css('[role=dialog] input')));
    await line.sendKeys('New project', Key.ENTER);
    steps++;
    await page.until('the new project', async () => (await page.text('header')).includes('Untitled machine'));
    await click('button', /Find or add/);
    for (const s of [
      'point A at 0, 0, 0 mm',
      'point B at 0, 0, 100 mm',
      'point C at 300, 0, 200 mm',
      'point D at 250, 0, 0 mm',
      'link Crank from A to B',
      'link Coupler from B to C',
      'link Rocker from C to D',
      'revolute Bearing between Frame and Crank at A about y',
      'revolute Crank pin between Crank and Coupler at B about y',
      'revolute Rocker pin between Coupler and Rocker at C about y',
      'revolute Foot between Rocker and Frame at D about y',
      'drive Motor on Bearing 60 rpm',
    ])
      await say(s);
    steps++;
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.find('button', /^Mobility 1 · driven by Motor/);
    steps++;
    expect(await page.run()).toContain('done');
    console.log(`${steps} clicks and entries`);
    expect(steps).toBeLessThanOrEqual(25);
  });

  it('finds elements and says when it does not understand', async () => {
    await page.driver.actions().sendKeys('/').perform();
    const line = await page.until('the line', () => page.driver.findElement(By.css('[role=dialog] input')));
    await line.sendKeys('rocker p');
    await page.until('the joint found', async () => (await page.text('[role=listbox]')).includes('Rocker pin'));
    await line.sendKeys(Key.chord(Key.CONTROL, 'a'), 'frobnicate the widget');
    await page.until('words', async () => (await page.text('[role=dialog]')).includes('Begin with a kind'));
    await line.sendKeys(Key.chord(Key.CONTROL, 'a'), 'rocker p', Key.ENTER);
    await page.until(
      'the joint selected',
      async () => (await page.driver.findElements(By.css('section[aria-label="Card"] input[aria-label="Name of Rocker pin"]'))).length > 0,
    );
  });
});

describe('select, then act', () => {
  const row = (name: string) => page.driver.findElement(By.css(`tr[data-row="${name}"] td:nth-child(2)`));
  const pick = async (names: readonly string[]) => {
    for (const [i, n] of names.entries()) {
      const cell = await row(n);
      const a = page.driver.actions();
      if (i > 0) a.keyDown(Key.CONTROL);
      a.move({ origin: cell }).click();
      if (i > 0) a.keyUp(Key.CONTROL);
      await a.perform();
    }
  };

  it('two points offer what hangs between them; one click adds a link with a body of its own, one undo takes it away', async () => {
    await page.click('tab', /^Points/);
    await pick(['A', 'C']);
    await page.until('offers', async () => /2 picked[\s\S]*Link bar\s*as a new body/.test(await page.text('section[aria-label="Card"]')));
    const bodies = async () => /Bodies (\d+)/.exec((await page.text('[role=tablist]')).replaceAll('\n', ' '))![1];
    const before = await bodies();
    await page.click('button', /^Link bar as a new body/);
    await page.until('the body', async () => (await bodies()) === String(Number(before) + 1));
    await page.click('button', 'Undo');
    await page.until('undone', async () => (await bodies()) === before);
  });

  it('two bodies and a point offer the joints, with the freedoms each takes', async () => {
    await page.click('tab', /^Bodies/);
    await pick(['Crank', 'Rocker']);
    await page.click('tab', /^Points/);
    await page.driver
      .actions()
      .keyDown(Key.CONTROL)
      .move({ origin: await row('B') })
      .click()
      .keyUp(Key.CONTROL)
      .perform();
    await page.until('joints', async () =>
      /3 picked[\s\S]*Revolute\s*Takes 5 of 6 freedoms, leaves 1 \(rotation\)[\s\S]*Spherical\s*Takes 3 of 6/.test(
        await page.text('section[aria-label="Card"]'),
      ),
    );
    await page.click('button', 'Clear');
  });
});

describe('the Map', () => {
  it('shows bodies and joints, lights a loop with its mobility, and selects what is clicked', async () => {
    await page.click('radio', 'Map');
    await page.until('four bodies', async () => (await page.driver.findElements(By.css('.react-flow__node'))).length === 4);
    const edge = await page.driver.findElement(By.css('.react-flow__edge[data-id="Rocker pin"] .react-flow__edge-interaction'));
    await page.driver.actions().move({ origin: edge }).perform();
    await page.until('the loop', async () =>
      /Loop of 4 joints: mobility 1 by rank, -2 by counting/.test(await page.text('[aria-label=Map]')),
    );
    await (await page.driver.findElement(By.css('.react-flow__node[data-id="Coupler"]'))).click();
    await page.until(
      'selected',
      async () => (await page.driver.findElements(By.css('section[aria-label="Card"] input[aria-label="Name of Coupler"]'))).length > 0,
    );
    await page.click('radio', 'Scene');
  });

  it('offers joints for an edge drawn between two bodies and a point', async () => {
    await page.click('radio', 'Map');
    const node = (name: string) => page.driver.findElement(By.css(`.react-flow__node[data-id="${name}"]`));
    await page.until('the graph', async () => (await page.driver.findElements(By.css('.react-flow__node'))).length === 4);
    const from = await (await node('Crank')).findElement(By.css('[data-handleid="draw"]'));
    await page.driver
      .actions()
      .move({ origin: from })
      .press()
      .move({ origin: await node('Rocker'), duration: 300 })
      .release()
      .perform();
    await page.until('both picked', async () => (await page.text('section[aria-label="Card"]')).includes('2 picked'));
    await page.click('button', 'Clear');
    await page.click('radio', 'Scene');
  });
});

describe('mass properties', () => {
  const card = () => page.text('section[aria-label="Mass properties"]');
  it('stand grey in the fields of the body; typed over they count, and are given back, as single undo steps', async () => {
    await page.click('tab', /^Bodies/);
    const row = await page.until('a body', async () => (await page.driver.findElements(By.css('tr[data-row]')))[0]);
    await row.click();
    const grey = async (field: string) => String(await (await page.find('textbox', field)).getAttribute('placeholder'));
    const typed = async (field: string) => String(await (await page.find('textbox', field)).getAttribute('value'));
    const mass = await page.until('its mass', async () => /^[\d.]+ kg$/.exec(await grey('Mass'))?.[0]);
    const centre = await Promise.all(['x', 'y', 'z'].map((k) => grey(`Centre of mass ${k}`)));
    await page.type('Mass', '7 kg');
    await page.until(
      'what its shapes come to stays told',
      async () => (await card()).includes('Mass of its shapes, kg') && (await card()).includes(mass.replace(' kg', '')),
    );
    await page.click('button', 'Mass: back to the shapes');
    await page.until('that of its shapes', async () => (await typed('Mass')) === '' && (await grey('Mass')) === mass);
    // one component typed over: the others keep what was found
    await page.type('Centre of mass y', '3 mm');
    await page.until('three numbers', async () => (await typed('Centre of mass y')) === '3 mm' && (await typed('Centre of mass x')) !== '');
    // grey numbers stand with three digits
    expect(Number((1000 * parseFloat(await typed('Centre of mass x'))).toPrecision(3))).toBe(parseFloat(centre[0]!.replace('−', '-')));
    // one of them emptied gives the whole vector back
    await page.type('Centre of mass y', ' ');
    await page.until('given back', async () => (await typed('Centre of mass x')) === '' && (await grey('Centre of mass x')) === centre[0]);
    for (let i = 0; i < 4; i++) await page.click('button', 'Undo');
    await page.until('as it was', async () => (await grey('Mass')) === mass);
  });
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
