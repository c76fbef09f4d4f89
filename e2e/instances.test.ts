/** What instances bring, used like what is drawn by hand: their points picked in the scene, the Map folded by instance. */
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

const ROCKER = {
  name: 'Rocker arm',
  content: {
    points: [
      { name: 'Foot' },
      { name: 'Tip', body: 'Rocker', at: ['100 mm', 0, 0] },
      { name: 'Head', at: ['200 mm', 0, 0] },
      { name: 'Elbow', at: ['200 mm', 0, 0] },
    ],
    bodies: [
      { name: 'Root', kind: 'mount' },
      { name: 'Rocker', origin: 'Foot', aim: 'Head', mass: '1 kg', inertia: ['1 g*m^2', '1 g*m^2', '1 g*m^2'] },
      { name: 'Link', origin: 'Elbow', mass: '1 kg', inertia: ['1 g*m^2', '1 g*m^2', '1 g*m^2'] },
    ],
    shapes: [
      { name: 'Bar', kind: 'link', body: 'Rocker', from: 'Foot', to: 'Head', width: '30 mm', thickness: '10 mm' },
      { name: 'Box', kind: 'box', body: 'Link', centre: 'Elbow', length: '40 mm', depth: '20 mm', height: '40 mm' },
    ],
    joints: [
      { name: 'Foot pin', kind: 'revolute', bodies: ['Root', 'Rocker'], at: ['Foot'], axis: [0, 1, 0] },
      { name: 'Head pin', kind: 'revolute', bodies: ['Rocker', 'Link'], at: ['Head'], axis: [0, 1, 0] },
    ],
  },
};

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  const file = join(tmpdir(), `two-rockers-${process.pid}.pivot.json`);
  writeFileSync(
    file,
    JSON.stringify({
      format: 'vim-pivot-model',
      version: 1,
      name: 'Two rockers',
      ground: 'Frame',
      kits: [ROCKER],
      instances: [
        { name: 'Near', kind: 'single', kit: 'Rocker arm' },
        { name: 'Far', kind: 'single', kit: 'Rocker arm', at: [0, '300 mm', 0] },
      ],
    }),
  );
  await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(file);
  await page.find('button', 'Project Two rockers');
  await page.until(
    'drawn',
    async () => (await page.script<[number, number] | null>(`return window.vimPivotPoint?.('Far/Head') ?? null`)) !== null,
  );
});
afterAll(() => page?.close());

const card = () => page.text('section[aria-label="Card"]');
const clickPoint = async (name: string, ...keys: string[]) => {
  const canvas = await page.driver.findElement(By.css('canvas')),
    box = await canvas.getRect();
  const [x, y] = await page.script<[number, number]>('return window.vimPivotPoint(arguments[0])', name);
  const at = { x: Math.round(x - box.width / 2), y: Math.round(y - box.height / 2) };
  const a = page.driver
    .actions()
    .move({ origin: canvas, x: at.x + 2, y: at.y })
    .move({ origin: canvas, ...at });
  for (const k of keys) a.keyDown(k);
  a.click();
  for (const k of keys) a.keyUp(k);
  await a.perform();
};

describe('points inside instances', () => {
  it('is picked in the scene where a joint of the instance is, and says where it comes from', async () => {
    await page.click('radio', 'Front');
    await page.click('radio', 'Iso');
    await clickPoint('Near/Head');
    await page.until('its Card', async () => (await card()).includes('Near/Head'));
    expect(await card()).toMatch(/Brought by Near, fixed in /);
  });
  it('two of them are picked and joined by a spring, which runs', async () => {
    await clickPoint('Near/Tip');
    await clickPoint('Far/Tip', Key.CONTROL);
    await page.until('both as chips', async () => /Near\/Tip[\s\S]*Far\/Tip/.test(await page.text('[aria-label="Picked"]')));
    await page.click('button', /^Spring/);
    await page.find('textbox', 'Stiffness');
    await page.type('Stiffness', '100 N/m');
    expect(await page.run()).toMatch(/done/);
    await page.click('button', 'Undo');
  });
  it('is picked from the Ledger too', async () => {
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.click('tab', /^Points/);
    await page.click('button', 'Far/Tip');
    await page.until('its Card', async () => (await card()).includes('Far/Tip') && (await card()).includes('fixed in Far/Rocker'));
    await page.click('button', 'Far');
    await page.until('the instance', async () => (await card()).includes('Make independent'));
  });
});

describe('the Map', () => {
  it('shows an instance as one node, unfolds it into its bodies and folds it again', async () => {
    await page.click('radio', 'Map');
    const map = async () => (await page.text('[aria-label=Map]')).split('\n');
    await page.until('folded', async () => (await map()).includes('Near') && (await map()).includes('2 bodies'));
    expect(await map()).not.toContain('Near/Link');
    await page.click('button', 'Unfold Near');
    await page.until('its bodies', async () => (await map()).includes('Near/Link') && (await map()).includes('Near/Rocker'));
    expect(await map()).toContain('Far');
    expect((await map()).some((l) => l.startsWith('Near/Head pin'))).toBe(true);
    await (await page.driver.findElements(By.css('button[aria-label="Fold Near"]')))[0]!.click();
    await page.until('folded', async () => !(await map()).includes('Near/Link'));
  });
  it('lists them by instance', async () => {
    await page.click('radio', 'List');
    await page.until('listed', async () => /Near instance[\s\S]*2 bodies/.test(await page.text('[aria-label=Map]')));
    await page.click('radio', 'Graph');
    await page.click('radio', 'Scene');
  });
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
