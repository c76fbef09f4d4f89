/**
 * Readings as a user takes them: a gauge from a joint that is clicked, strokes from cursors and by detection, a limit that fails, runs overlaid,
 * loads, a video that decodes.
 */
import { readFileSync } from 'node:fs';
import { ALL_FORMATS, BufferSource, EncodedPacketSink, Input } from 'mediabunny';
import { By } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run', 20_000);
});
afterAll(() => page?.close());

const text = (css: string) => page.text(css);

describe('before anything was run', () => {
  it('a limit says that it is not known whether it is kept', async () => {
    await page.click('button', 'Readings');
    await page.click('button', 'Add a limit');
    await page.type('Upper bound', '1 m');
    await page.until('what it says', async () => (await text('section[aria-label=Limits]')).includes('not run yet'));
    expect(await text('section[aria-label=Limits]')).not.toContain('kept');
    await page.click('button', 'Undo');
    await page.click('button', 'Undo');
    await page.click('button', 'Build');
  });
});

describe('a reading', () => {
  it('comes from a joint that is clicked, after the run, and reads from it at once', async () => {
    await page.run();
    await page.clickIf('button', 'Pause');
    await page.click('button', 'Back to the start');
    await page.click('tab', /^Joints/);
    const [x, y] = await page.script<[number, number]>("return window.vimPivotPoint('Rocker foot')");
    const canvas = await page.driver.findElement(By.css('canvas')),
      box = await canvas.getRect();
    await page.driver
      .actions()
      .move({ origin: canvas, x: Math.round(x - box.width / 2), y: Math.round(y - box.height / 2) })
      .click()
      .perform();
    await page.until('the joint on the Card', async () =>
      /Rocker pin/.test(
        await page.script<string>("return [...document.querySelectorAll('section[aria-label=Card] input')].map((e) => e.value).join()"),
      ),
    );
    await page.click('button', /^Joint coordinate/);
    await page.click('button', 'Readings');
    await page.until('its curve', async () => (await text('[aria-label=Charts]')).includes('Rocker pin angle'));
  });
  it('gives forward and return times of the stroke, from cursors and by detection, that agree to the recording interval', async () => {
    await page.until('strokes', async () => (await page.driver.findElements(By.css('[data-stroke=up]'))).length === 1);
    await page.click('button', 'Put cursors on the last strokes');
    const between = async (k: string) =>
      parseFloat(
        (await text(`[data-between="${k}"]`))
          .split('\n')
          .join(' ')
          .replace(/^.*?→ \d/, ''),
      );
    const [first, second] = [await between('1-2'), await between('2-3')];
    const up = parseFloat(await text('[data-stroke=up]')),
      down = parseFloat(await text('[data-stroke=down]'));
    expect(Math.min(Math.abs(first - up) + Math.abs(second - down), Math.abs(first - down) + Math.abs(second - up))).toBeLessThan(0.002);
    // one turn of the motor is one stroke up and one down: 90 rpm
    expect(up + down).toBeCloseTo(60 / 90, 2);
    // beside the times stand the lengths, the same both ways for a machine that has come to its pace
    const [there, back] = [await text('[data-length=up]'), await text('[data-length=down]')].map(parseFloat);
    expect(Math.abs(there! - back!) / there!).toBeLessThan(0.2);
    expect(await text('[data-length=up]')).toMatch(/mm$|deg$|N|W|J/);
  });
  it('a torque limit that fails is seen on the timeline, among the checks and beside the limit', async () => {
    await page.click('button', 'Add a limit');
    await page.until('the Card', async () => (await text('section[aria-label=Card]')).includes('Upper bound'));
    const gauge = await page.find('combobox', 'Gauge');
    await gauge.sendKeys('Crank torque');
    await page.type('Upper bound', '1.5 N*m');
    await page.until('marks on the timeline', async () => (await page.driver.findElements(By.css('[data-violation]'))).length > 2);
    expect(await text('section[aria-label=Limits]')).toMatch(/N·m at \d/);
    await page.type('Upper bound', '500 N*m');
    await page.until('kept', async () => (await text('section[aria-label=Limits]')).includes('kept'));
    expect(await page.driver.findElements(By.css('[data-violation]'))).toHaveLength(0);
    await page.type('Upper bound', '3 kg');
    await page.until('that it is in error', async () => /in error/.test(await text('section[aria-label=Limits]')));
    await page.type('Upper bound', '1.5 N*m');
    await page.click('button', 'Build');
    await page.until('the check', async () => /Not kept in run \d+: Crank torque reaches/.test(await text('body')));
    await page.click('button', 'Readings');
  });
  it('a score is taken, with the time at which it is reached', async () => {
    await page.click('button', 'Add a score');
    await page.until('its value', async () => /at \d\.\d+ s/.test(await text('section[aria-label=Scores]')));
  });
  it('a working by hand stands beside the score, with the difference in per cent, and is told when it is too large', async () => {
    await (await page.find('combobox', 'Measure')).sendKeys('range');
    await page.click('button', 'Add a working');
    await page.type('Value by hand', '100 mm');
    await page.until('the difference', async () => /[+-][\d.e+]+ %/.test(await text('section[aria-label=Workings]')));
    await page.click('button', 'Close the Card');
  });
  it('charts zoom in time together, and show all again', async () => {
    const spans = () => page.script<string[]>("return [...document.querySelectorAll('[data-chart]')].map((c) => c.dataset.span)");
    expect(new Set(await spans())).toEqual(new Set(['all']));
    await page.script(
      "const c = document.querySelector('[data-chart] canvas'), b = c.getBoundingClientRect(); for (let i = 0; i < 4; i++) c.dispatchEvent(new WheelEvent('wheel', { deltaY: -100, ctrlKey: true, clientX: b.left + b.width / 2, clientY: b.top + 40, bubbles: true, cancelable: true }));",
    );
    await page.until('all of them zoomed alike', async () => {
      const now = await spans();
      return new Set(now).size === 1 && now[0] !== 'all';
    });
    const [from, to] = (await spans())[0]!.split(' to ').map(Number) as [number, number];
    expect(to - from).toBeCloseTo(4 * Math.exp(-1), 2);
    await page.script("document.querySelector('[data-chart] canvas').dispatchEvent(new MouseEvent('dblclick', { bubbles: true }))");
    await page.until('all again', async () => (await spans()).every((x) => x === 'all'));
  });
  it('two runs are overlaid', async () => {
    await page.run();
    await page.click('button', 'Overlay run 1');
    await page.until('both in a chart', async () => /Run 1[\s\S]*Run 2|Run 2[\s\S]*Run 1/.test(await text('[aria-label=Charts]')));
  });
  it('curves of a run that is no longer of the model are marked, until it is again', async () => {
    const marked = () => page.script<string>("return document.querySelector('[aria-label=\"Older run\"]')?.textContent ?? ''");
    expect(await marked()).toBe('');
    await page.type('End time', '3 s');
    await page.until('the mark', async () => /Run 2 is of the model before it was changed.*Run settings/.test(await marked()));
    await page.click('button', 'Build');
    await page.until('the mark beside the scene', async () => (await marked()).includes('Run settings'));
    await page.click('button', 'Undo');
    await page.until('no mark', async () => (await marked()) === '');
    await page.click('button', 'Readings');
  });
  it('what moves a score stands below it, the largest effect first, and is what a change of that number does', async () => {
    await page.clickIf('button', 'Close the Card');
    await page.click('button', 'What moves it');
    const rows = async () =>
      (
        await page.script<[string, string][]>(
          "return [...document.querySelectorAll('[data-number]')].map((e) => [e.dataset.number, e.innerText])",
        )
      ).map(([name, said]): [string, number] => [name, parseFloat(/[-+−][\d.e-]+(?= %)/.exec(said)?.[0].replace('−', '-') ?? 'NaN')]);
    await page.until('numbers', async () => (await rows()).length > 0, 120_000);
    const [first, ...rest] = (await rows()).map(([, percent]) => Math.abs(percent));
    expect(rest.length).toBeGreaterThan(2);
    for (const x of rest) expect(x).toBeLessThanOrEqual(first!);
    await page.click('button', /^\d+ more$/);
    const [, percent] = (await rows()).find(([name]) => name === 'arm')!,
      score = async () => parseFloat((await text('section[aria-label=Scores] dd')).replace(',', ''));
    const before = await score();
    // that number is one press away
    await page.click('button', 'arm');
    await page.until('the Card', async () =>
      (await page.script<string[]>("return [...document.querySelectorAll('section[aria-label=Card] input')].map((e) => e.value)")).includes(
        'arm',
      ),
    );
    await page.type('Value', '60.6 mm');
    await page.run();
    await page.until('the score of the new run', async () => (await score()) !== before);
    expect((100 * ((await score()) - before)) / before / percent).toBeCloseTo(1, 1);
    // it is worked out anew for the machine as it is now
    await page.until('the numbers of now', async () => (await text('[data-number=arm]')).includes('60.6 mm'), 120_000);
    await page.click('button', 'What moves it');
    await page.click('button', 'Undo');
    await page.click('button', 'Close the Card');
    await page.run();
  });
});

describe('handed over', () => {
  it('the loads on a body as CSV and JSON, with the check that they sum to zero', async () => {
    await page.menu('Export…', /^Loads on a body…/);
    await (await page.find('combobox', 'Body whose loads')).sendKeys('Rocker');
    await page.click('button', 'As CSV');
    const csv = readFileSync(await page.downloaded(/loads\.csv$/), 'utf8')
      .trim()
      .split('\n');
    expect(csv[0]).toContain('Fx [N]');
    const columns = csv[0]!.split(','),
      rest = columns.indexOf('rest of force');
    for (const line of csv.slice(1)) expect(Number(line.split(',')[rest])).toBeLessThan(1e-8);
    expect(csv.some((l) => l.includes('inertia'))).toBe(true);
    await page.click('button', 'As JSON');
    const json = JSON.parse(readFileSync(await page.downloaded(/loads\.json$/), 'utf8')) as { instants: { loads: { from: string }[] }[] };
    expect(json.instants[0]!.loads.map((l) => l.from)).toContain('Rocker pin');
    await page.click('button', 'Close');
  });
  it('a report in one file, with its charts and scores', async () => {
    await page.menu('Export…', /^Report/);
    const html = readFileSync(await page.downloaded(/report\.html$/), 'utf8');
    expect(html).toContain('<h1>Sorting gate</h1>');
    expect(html.match(/data:image\/png/g)!.length).toBeGreaterThan(4);
    expect(html).toContain('Scores');
    expect(html).not.toMatch(/src="http|<script/);
  });
  it('a run keeps its name, note and pin; its model is compared and brought back', async () => {
    await page.click('button', 'More on run 1');
    await page.type('Name of run 1', 'Before');
    await page.until('its name', async () => (await text('section[aria-label=Runs]')).includes('Before'));
    await page.until('what differs', async () => /limits?|new/i.test(await text('[aria-label=Differences]')));
    // of any two runs as well, what moves first
    await page.menu('Compare run 1 with', /^Run 2/);
    expect((await text('[aria-label=Differences]')).split('\n')[0]).toMatch(/^What (moves|is read)$/);
    await page.menu('Compare run 1 with', /^The model that is open/);
    await page.click('button', 'Bring its model back');
    await page.until('it is the model', async () => (await text('section[aria-label=Runs]')).includes('Its model is the one that is open'));
    await page.click('button', 'Undo');
  });
  it('the posture as STL, of as many triangles as its bytes say', async () => {
    await page.menu('Export…', /^Posture as STL/);
    const stl = readFileSync(await page.downloaded(/\.stl$/));
    expect(stl.length).toBe(84 + 50 * stl.readUInt32LE(80));
    expect(stl.readUInt32LE(80)).toBeGreaterThan(100);
  });
  it('a video decodes with the right number of frames and duration', async () => {
    await page.menu('Export…', /^Record video…/);
    await (await page.find('combobox', 'Size of the video')).sendKeys('640');
    await (await page.find('combobox', 'Frames a second')).sendKeys('10');
    await (await page.find('combobox', 'Speed of the video')).sendKeys('2');
    await page.click('button', 'Record');
    const file = await page.downloaded(/\.(webm|mp4)$/);
    const input = new Input({ source: new BufferSource(readFileSync(file)), formats: ALL_FORMATS });
    const track = (await input.getPrimaryVideoTrack())!;
    let frames = 0;
    for await (const packet of new EncodedPacketSink(track).packets()) frames += packet.byteLength > 0 ? 1 : 0;
    // 4 s of the machine at twice its speed, ten frames a second, and the last
    expect(frames).toBe(21);
    expect(await input.computeDuration()).toBeCloseTo(2.1, 2);
    expect([track.displayWidth, track.displayHeight]).toEqual([640, 360]);
  }, 600_000);
  it('nothing was complained of', async () => {
    expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
  });
});
