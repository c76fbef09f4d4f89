/** Dragging a body in the scene: the machine follows, springs back, or keeps the posture as its start. */
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
  await page.until('the scene', () => page.script<boolean>('return !!window.vimPivotFrames && window.vimPivotFrames() > 0'));
});
afterAll(() => page?.close());

const posture = () => page.script<number[]>("return window.vimPivotPosture().split(' ').map(Number)");
const apart = (a: number[], b: number[]) => Math.max(...a.map((x, i) => Math.abs(x - b[i]!)));

/** Selects the rocker by a click on it and drags it sideways. */
async function drag(): Promise<void> {
  const canvas = await page.driver.findElement(By.css('canvas'));
  const box = await canvas.getRect();
  // a little below its middle, clear of points and pins
  const [x, y] = await page.script<[number, number]>("return window.vimPivotSpot('Rocker')");
  const spot = { x: Math.round(x - box.width / 2), y: Math.round(y + 24 - box.height / 2) };
  await page.driver.actions().sendKeys(Key.ESCAPE, Key.ESCAPE).perform();
  await page.driver
    .actions()
    .move({ origin: canvas, ...spot })
    .click()
    .perform();
  await page.until(
    'a body is selected',
    async () => (await page.driver.findElements(By.css('section[aria-label="Card"] input[aria-label="Name of Rocker"]'))).length > 0,
  );
  await page.driver
    .actions()
    .move({ origin: canvas, ...spot })
    .press()
    .move({ origin: canvas, x: spot.x + 20, y: spot.y, duration: 200 })
    .move({ origin: canvas, x: spot.x + 45, y: spot.y + 4, duration: 300 })
    .release()
    .perform();
}

it('follows the pointer, and springs back', async () => {
  const before = await posture();
  await drag();
  await page.until('the machine follows', async () => apart(await posture(), before) > 5e-3);
  await page.click('button', 'Spring back');
  await page.until('it is back', async () => apart(await posture(), before) < 1e-5);
});

it('keeps the posture as the start posture by one undo step', async () => {
  const before = await posture();
  await drag();
  await page.until('the machine follows', async () => apart(await posture(), before) > 5e-3);
  const there = await posture();
  await page.click('button', 'Keep as start posture');
  await page.until('a start value', async () => /Start values 1/.test((await page.text('[role=tablist]')).replaceAll('\n', ' ')));
  await page.until('the machine stands there', async () => apart(await posture(), there) < 1e-4);
  await page.click('button', 'Undo');
  await page.until('undone', async () => apart(await posture(), before) < 1e-5);
});
