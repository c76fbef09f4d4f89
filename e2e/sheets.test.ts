/** Sheets, playback, hand-over files, workings and runs that go wrong, as a user meets them. */
import { readFileSync } from 'node:fs';
import { parquetReadObjects } from 'hyparquet';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run', 20_000);
  await page.run();
  await page.type('Value of arm', '66 mm');
  await page.run();
  await page.click('button', 'Readings');
  await page.clickIf('button', 'Pause');
});
afterAll(() => page?.close());

const tiles = () =>
  page.script<string[]>("return [...document.querySelectorAll('article[data-tile]')].map((e) => e.getAttribute('aria-label'))");
/** What the charts of a tile hold: their scales, and the points they draw. */
const plots = (tile: string) =>
  page.script<{ axes: string[]; types: string[]; sets: { x: number; y: number }[][] }[]>(
    `return [...document.querySelectorAll('article[aria-label="' + arguments[0] + '"] [data-chart] canvas')].map((c) => ({ axes: Object.keys(c.plot.scales), types: Object.values(c.plot.scales).map((s) => s.type), sets: c.plot.data.datasets.map((d) => d.data) }))`,
    tile,
  );
const drawn = (tile: string) =>
  page.until(`curves of ${tile}`, async () => {
    const p = await plots(tile);
    return p.length > 0 && p.every((c) => c.sets.length > 0 && c.sets.every((s) => s.length > 2)) ? p : undefined;
  });
const pick = (label: string, option: RegExp) => page.choose(label, option);
/** Rows of a table of the page's store: their number, or all taken out. */
const inStore = (table: string, act: 'clear' | 'count') =>
  page.driver.executeAsyncScript<number>(
    `
    const done = arguments[arguments.length - 1], open = indexedDB.open('vim-pivot');
    open.onsuccess = () => {
      const t = open.result.transaction(arguments[0], 'readwrite'), asked = t.objectStore(arguments[0])[arguments[1]]();
      t.oncomplete = () => { open.result.close(); done(asked.result ?? 0); };
    };`,
    table,
    act,
  );
const menu = async (button: string | RegExp, item: string | RegExp) => {
  await page.click('button', button);
  await page.driver.sleep(200);
  await page.click('menuitem', item);
};

describe('a ready-made sheet', () => {
  it('brings the gauges it needs, with an axis for each unit and one gauge over another', async () => {
    await menu('Add a sheet', /^Motor sizing/);
    await page.until('its tiles', async () => (await tiles()).length === 5);
    const [both] = await drawn('Motor: torque and speed');
    expect(both!.axes.filter((a) => a.startsWith('y'))).toHaveLength(2);
    const [phase] = await drawn('Motor: torque over speed');
    // both axes of a gauge over a gauge say what they are, with their units
    const titles = await page.script<string[]>(
      `return Object.values(document.querySelector('article[aria-label="Motor: torque over speed"] canvas').plot.scales).map((a) => a.options.title.text)`,
    );
    expect([...titles].sort()).toEqual(['Motor speed, rpm', 'Motor torque, N·m']);
    // at full speed the torque swings while the speed stands
    const last = phase!.sets[0]!.slice(-500);
    expect(Math.max(...last.map((p) => p.x)) - Math.min(...last.map((p) => p.x))).toBeLessThan(0.1);
    expect(Math.max(...last.map((p) => p.y)) - Math.min(...last.map((p) => p.y))).toBeGreaterThan(1);
    await page.until('the number', async () => /\d N·m/.test(await page.text('article[aria-label="Motor: peak torque"]')));
  });

  it('tells in its legends what each curve reads at the time shown', async () => {
    const peak = parseFloat(await page.text('article[aria-label="Motor: peak torque"]').then((t) => /[\d.]+(?= N·m)/.exec(t)![0]));
    await page.driver.findElement(By.css('article[aria-label="Motor: peak torque"] button.underline')).click();
    const legend = () => page.text('article[aria-label="Motor: torque and speed"] ul[aria-label=Legend] li');
    const there = await page.until('a value', async () => /N·m\s+(-?[\d.]+)$/.exec(await legend())?.[1]);
    expect(Math.abs(parseFloat(there)) / peak).toBeCloseTo(1, 2);
    await page.click('button', 'Back to the start');
    await page.until('another value', async () => !(await legend()).endsWith(there));
  });
  it('is arranged by dragging, as one undo step', async () => {
    const place = () =>
      page.script<number>(`return document.querySelector('article[aria-label="Motor: power"]').getBoundingClientRect().top`);
    const before = await place();
    const head = await page.driver.findElement(By.css('article[aria-label="Motor: power"] .tile-head span'));
    await page.driver
      .actions({ async: true })
      .move({ origin: head })
      .press()
      .move({ origin: head, x: 0, y: -150, duration: 300 })
      .move({ origin: head, x: 0, y: -330, duration: 300 })
      .release()
      .perform();
    await page.until('another place', async () => (await place()) < before - 200);
    await page.driver.sleep(500);
    await page.click('button', 'Undo');
    await page.until('its old place', async () => Math.abs((await place()) - before) < 3);
  });
  it('goes into a report, its tiles in their places', async () => {
    await page.click('button', 'Add tile…');
    await page.driver.sleep(200);
    await page.click('menuitem', /^Note/);
    const words = await page.until('the note', () => page.driver.findElement(By.css('article[data-tile=note] textarea')));
    await words.sendKeys('Rated torque <b>1.8</b> N·m & more');
    await page.script('document.activeElement.blur()');
    await page.driver.sleep(300);
    const tile = await page.script<string>("return document.querySelector('article[data-tile=note]').ariaLabel");
    await page.menu('Export…', /^Report/);
    const html = readFileSync(await page.downloaded(/report\.html$/), 'utf8');
    expect(html).toContain('<h2>Motor sizing</h2>');
    for (const t of ['Motor: torque and speed', 'Motor: torque over speed', 'Motor: power', 'Motor: peak torque', tile])
      expect(html).toContain(`<h3>${t}</h3>`);
    expect(html).toMatch(/<p class="large">[\d.]+ N·m<\/p>/);
    expect(html).toContain('Rated torque &lt;b&gt;1.8&lt;/b&gt; N·m &amp; more');
    expect(html).not.toMatch(/src="(?!data:)|<script/);
    // every picture shows something: it is not of one colour all over
    const pictures = [...html.matchAll(/src="(data:image\/png[^"]+)"/g)].map((m) => m[1]!);
    expect(pictures.length).toBeGreaterThanOrEqual(3);
    for (const p of pictures)
      expect(
        await page.driver.executeAsyncScript<number>(
          `
      const [src, done] = arguments, image = new Image();
      image.onload = () => { const c = document.createElement('canvas'); c.width = image.width; c.height = image.height; const g = c.getContext('2d'); g.drawImage(image, 0, 0); done(new Set(new Uint32Array(g.getImageData(0, 0, c.width, c.height).data.buffer)).size); };
      image.src = src;`,
          p,
        ),
      ).toBeGreaterThan(5);
    for (let i = 0; i < 2; i++) await page.click('button', 'Undo');
    await page.until('without the note', async () => (await tiles()).length === 5);
  });
});

describe('a chart', () => {
  it('of a sheet of one’s own takes the gauges that are ticked', async () => {
    await menu('Add a sheet', 'An empty sheet');
    await menu(/^Add tile/, 'Chart');
    await page.until('the tile', async () => (await tiles()).join() === 'Chart');
    for (const g of ['Pusher travel', 'Crank torque']) {
      const box = await page.driver.findElement(By.xpath(`//aside//label[.//span[normalize-space()="${g}"]]//*[@role="checkbox"]`));
      await box.click();
      await page.until('ticked', async () => (await page.text('article[aria-label=Chart]')).includes(g));
    }
    const [c] = await drawn('Chart');
    expect(c!.axes.filter((a) => a.startsWith('y'))).toHaveLength(2);
    expect(c!.sets).toHaveLength(2);
  });
  it('is a spectrum with its peak at the speed of the crank', async () => {
    await pick('Shown as', /^spectrum/);
    await page.until('frequencies', async () => {
      const sets = (await plots('Chart'))[0]?.sets[0] ?? [];
      return sets.length > 2 && sets.at(-1)!.x > 100;
    });
    const set = (await plots('Chart'))[0]!.sets[0]!.filter((p) => p.x > 0.8 && p.x < 20),
      peak = set.reduce((a, p) => (p.y > a.y ? p : a));
    expect(peak.x).toBeGreaterThan(1.3);
    expect(peak.x).toBeLessThan(1.7); // 90 rpm are 1.5 Hz
    await pick('Vertical', /^logarithmic/);
    await page.until('decades', async () => (await plots('Chart'))[0]!.types.includes('logarithmic'));
    await pick('Vertical', /^linear/);
  });
  it('is a histogram that comes to a hundred per cent, and curves one below the other', async () => {
    await pick('Shown as', /^histogram/);
    const fields = await page.until('a field for each unit', async () => {
      const p = await plots('Chart');
      return p.length === 2 && p.every((f) => f.sets[0]!.length > 10 && f.sets[0]!.at(-1)!.y === 0) ? p : undefined;
    });
    for (const f of fields) expect(f.sets[0]!.reduce((s, p) => s + p.y, 0)).toBeCloseTo(100, 6);
    const range = (f: (typeof fields)[number]) => f.sets[0]!.at(-1)!.x - f.sets[0]![0]!.x,
      whole = fields.map(range);
    await page.type('Until', '0.1 s'); // it has hardly begun to move
    await page.until('a part of it', async () => {
      const p = await plots('Chart');
      return p.length === 2 && p.every((f, i) => range(f) < 0.5 * whole[i]!);
    });
    await page.type('Until', Key.DELETE);
    await page.until('all of it', async () => range((await plots('Chart'))[0]!) === whole[0]);
    await pick('Shown as', /^curves/);
    await pick('Curves', /^one below/);
    await page.until('two fields', async () => (await plots('Chart')).length === 2);
    await pick('Curves', /^all in one/);
  });
  it('shows the difference to the baseline run', async () => {
    await pick('Runs', /^difference/);
    await page.until('what is missing', async () => (await page.text('article[aria-label=Chart]')).includes('No run is the baseline'));
    await page.click('button', 'More on run 1');
    const box = await page.driver.findElement(By.xpath('//label[contains(., "Baseline")]//*[@role="checkbox"]'));
    await box.click();
    const [c] = await page.until('a difference', async () =>
      (await page.text('article[aria-label=Chart]')).includes('Run 2, arm ') &&
      (await page.text('article[aria-label=Chart]')).includes(' less Run 1, arm ')
        ? drawn('Chart')
        : undefined,
    );
    // the longer arm moves the pusher further
    expect(Math.max(...c!.sets[0]!.map((p) => Math.abs(p.y)))).toBeGreaterThan(3);
    await pick('Runs', /^the run shown/);
  });
  it('is saved as SVG, with its curves as lines', async () => {
    await menu('Menu of Chart', 'Save as SVG');
    const svg = readFileSync(await page.downloaded(/^chart\.svg$/), 'utf8');
    expect(svg).toMatch(/^<svg|<\?xml/);
    expect(svg.match(/<path/g)!.length).toBeGreaterThan(5);
    expect(svg).toContain('4 s');
  });
  it('has a title and ends of its axes, which its pictures keep', async () => {
    await page.type('Title', 'Torque at the crank');
    await page.type('Vertical from', '-3 N*m');
    await page.type('Vertical to', '4 N*m');
    await page.type('Horizontal from', '0.5 s');
    await page.type('Horizontal to', '2 s');
    const ends = () =>
      page.script<number[]>(`
      const { scales } = document.querySelector('article[aria-label=Chart] canvas').plot, y = Object.values(scales).find((a) => a.id !== 'x' && a.max === 4);
      return [scales.x.min, scales.x.max, y?.min, y?.max];`);
    await page.until('the axes', async () => JSON.stringify(await ends()) === '[0.5,2,-3,4]');
    await menu('Menu of Chart', 'Save as SVG');
    const svg = readFileSync(await page.downloaded(/^chart \(1\)\.svg$/), 'utf8');
    expect(svg).toContain('Torque at the crank');
    expect(svg).toContain('>2 s<');
    expect(svg).not.toContain('4 s');
    for (const f of ['Title', 'Vertical from', 'Vertical to', 'Horizontal from', 'Horizontal to']) await page.type(f, Key.DELETE);
    await page.until('all of it', async () => (await ends())[1]! > 3.9);
  });
  it('draws again after the page is loaded anew: sheets belong to the project', async () => {
    await menu(/^Add tile/, 'Note');
    const note = await page.find('textbox', 'Words of Note');
    await note.sendKeys('The pusher dwells at the gate.');
    await page.clickIf('button', 'Settings');
    await page.driver.findElement(By.css('h2')).click();
    await page.driver.sleep(900);
    await page.driver.navigate().refresh();
    await page.click('button', 'Readings');
    await page.click('tab', 'Sheet');
    await drawn('Chart');
    await page.until(
      'the words',
      async () =>
        (await page.script<string>('return document.querySelector(\'textarea[aria-label="Words of Note"]\').value')) ===
        'The pusher dwells at the gate.',
    );
  });
});

describe('a sheet without a picture of the machine', () => {
  it('plays, and arranges several tiles over the whole of it', async () => {
    await menu('Add a sheet', 'An empty sheet');
    for (let i = 0; i < 3; i++) await menu(/^Add tile/, 'Chart');
    const boxes = () =>
      page.script<[number, number, number, number][]>(
        "return [...document.querySelectorAll('article[data-tile=chart]')].map((a) => { const r = a.getBoundingClientRect(); return [r.x, r.y, r.width, r.height].map(Math.round); })",
      );
    // two beside each other, the third below over the whole width
    await page.until('arranged', async () => {
      const b = await boxes();
      return b.length === 3 && b[0]![1] === b[1]![1] && b[1]![0] > b[0]![0] && b[2]![1] > b[0]![1] && b[2]![2] > 1.8 * b[0]![2];
    });
    await page.clickIf('button', 'Back to the start');
    const shown = () => page.text('output[aria-label="Time shown"]').then(parseFloat);
    await page.click('button', 'Play');
    await page.until('time goes on', async () => (await shown()) > 0.2);
    await page.clickIf('button', 'Pause');
    await page.click('button', 'Playback…');
    await page.find('button', 'One record on');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    for (let i = 0; i < 4; i++) await page.click('button', 'Undo');
  });
});

describe('playback', () => {
  const time = () => page.text('output[aria-label="Time shown"]').then(parseFloat);
  const posture = () => page.script<string>('return window.vimPivotPosture()');
  it('goes record by record, and to a peak of a gauge', async () => {
    await page.click('tab', 'All gauges');
    await page.until('curves', async () => (await page.text('[aria-label=Charts]')).includes('Crank torque'));
    await page.clickIf('button', 'Back to the start');
    await page.click('button', 'One record on');
    await page.until('one record', async () => Math.abs((await time()) - 0.001) < 1e-9);
    await page.click('button', 'One record back');
    await page.until('none', async () => (await time()) === 0);
    await page.click('button', 'Go to a peak…');
    await page.driver.sleep(200);
    await page.click('menuitem', /^Pusher travel.*highest/);
    const at = await page.until('a peak', async () => ((await time()) > 0.1 ? time() : undefined));
    await page.click('button', 'Next peak');
    await page.until('the trough after it', async () => (await time()) > at + 0.1);
  });
  it('has one time after an edit as well: charts, cursors and run bar stand at the start', async () => {
    expect(await time()).toBeGreaterThan(0.1);
    await page.click('button', 'Build');
    await page.click('tab', /^Parameters/);
    await page.type('Value of arm', '61 mm');
    await page.click('button', 'Readings');
    await page.find('button', 'Add at 0.000 s');
    await page.click('button', 'Undo');
    await page.click('button', 'Next peak');
    await page.until('the first peak', async () => (await time()) > 0.1);
    const first = await time();
    await page.click('button', 'Last peak');
    expect(await time()).toBeLessThanOrEqual(first);
  });
  it('draws ghosts, paths and arrows, and lets the camera go with a body', async () => {
    const calls = () => page.script<number>('return window.vimPivotCalls()');
    const before = await calls();
    await page.click('button', 'Ghost here');
    await page.until('a ghost', async () => (await calls()) > before);
    const ghost = await calls();
    await menu('Paths…', /^Yoke tip/);
    await page.until('a path', async () => (await calls()) > ghost);
    await page.click('button', 'Forces');
    await page.click('button', 'Speeds');
    await page.until('arrows', async () => (await calls()) > ghost + 1);
    const spot = () => page.script<[number, number]>("return window.vimPivotSpot('Pusher')");
    await menu('Camera…', /^Pusher.*follows it/);
    await page.driver.sleep(300);
    const [x, y] = await spot(),
      p = await posture();
    await page.click('button', 'Next peak');
    await page.until('another posture', async () => (await posture()) !== p);
    await page.driver.sleep(300);
    const [x2, y2] = await spot();
    expect(Math.hypot(x2 - x, y2 - y)).toBeLessThan(1);
    await menu(/^Camera follows/, 'Stands still');
    await page.click('button', 'no ghosts');
    await page.click('button', 'Forces');
    await page.click('button', 'Speeds');
    await menu('Paths…', 'None');
    await page.until('nothing of it left', async () => (await calls()) <= before);
  });
  it('goes to and fro', async () => {
    await page.click('radio', 'To and fro');
    const speed = await page.driver.findElement(By.css('[aria-label="Speed of playback"]'));
    await speed.sendKeys(Key.chord(Key.CONTROL, 'a'), '16', Key.ENTER);
    await page.click('button', 'Play');
    const seen: number[] = [];
    await page.until(
      'a way back',
      async () => {
        seen.push(await time());
        return seen.some((t, i) => i > 1 && t < seen[i - 1]! && seen[i - 1]! > seen[i - 2]!) || undefined;
      },
      20_000,
    );
    await page.click('button', 'Pause');
    await page.click('radio', 'Once');
  });
});

describe('files', () => {
  it('the motion as GLB: a node for each body, moved at every frame', async () => {
    await menu('Export…', /^Motion as GLB/);
    const file = readFileSync(await page.downloaded(/\.glb$/));
    expect(file.toString('latin1', 0, 4)).toBe('glTF');
    expect(file.readUInt32LE(8)).toBe(file.length);
    const json = JSON.parse(file.toString('utf8', 20, 20 + file.readUInt32LE(12))) as {
      nodes: { name: string }[];
      animations: { channels: { target: { node: number; path: string } }[]; samplers: { input: number }[] }[];
      accessors: { count: number; max?: number[] }[];
    };
    for (const b of ['Crank', 'Coupler', 'Rocker', 'Yoke', 'Pusher']) expect(json.nodes.map((n) => n.name)).toContain(b);
    expect(new Set(json.animations[0]!.channels.map((c) => json.nodes[c.target.node]!.name)).size).toBeGreaterThanOrEqual(5);
    const input = json.accessors[json.animations[0]!.samplers[0]!.input]!;
    expect(input.count).toBe(1200);
    expect(input.max![0]).toBeCloseTo(4, 5);
  });
  it('curves as Parquet, the same numbers as in the CSV', async () => {
    await menu('Export…', /^Curves as Parquet/);
    await menu('Export…', /^Curves as CSV/);
    const bytes = readFileSync(await page.downloaded(/\.parquet$/)),
      csv = readFileSync(await page.downloaded(/curves\.csv$/), 'utf8')
        .trim()
        .split('\n')
        .map((l) => l.split(','));
    const rows = (await parquetReadObjects({
      file: bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer,
    })) as Record<string, number>[];
    expect(rows).toHaveLength(csv.length - 1);
    expect(Object.keys(rows[0]!)).toEqual(csv[0]!.map((h) => h.replaceAll('"', '')));
    for (const i of [0, 1234, rows.length - 1]) Object.values(rows[i]!).forEach((v, k) => expect(v).toBeCloseTo(Number(csv[i + 1]![k]), 8));
  });
  it('curves of the part that the charts show', async () => {
    await page.script(`
      const c = document.querySelector('[data-chart] canvas'), box = c.getBoundingClientRect();
      for (let i = 0; i < 4; i++) c.dispatchEvent(new WheelEvent('wheel', { deltaY: -100, ctrlKey: true, bubbles: true, cancelable: true, clientX: box.left + 200, clientY: box.top + 50 }));`);
    const span = await page.until('a part', async () => {
      const at = await page.script<string>("return document.querySelector('[data-chart]').dataset.span");
      return at === 'all' ? undefined : at.split(' to ').map(Number);
    });
    await menu('Export…', /^Curves as Parquet/);
    const bytes = readFileSync(await page.downloaded(/\(1\)\.parquet$/));
    const rows = (await parquetReadObjects({
      file: bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer,
    })) as Record<string, number>[];
    const times = rows.map((r) => Object.values(r)[0]!);
    expect(times[0]).toBeCloseTo(span[0]!, 3);
    expect(times.at(-1)).toBeCloseTo(span[1]!, 3);
    expect(rows.length).toBeGreaterThan(100);
    expect(rows.length).toBeLessThan(3000);
    await page.script("document.querySelector('[data-chart] canvas').dispatchEvent(new MouseEvent('dblclick', { bubbles: true }))");
    await page.until(
      'all again',
      async () => (await page.script<string>("return document.querySelector('[data-chart]').dataset.span")) === 'all',
    );
  });
});

describe('a gauge', () => {
  it('is found by what it reads', async () => {
    await page.click('button', 'Add a gauge');
    const field = await page.find('textbox', 'What to read');
    await field.sendKeys('rail slide moment');
    await page.click('button', /^Rail slide: moment/);
    await page.until('its curve', async () => (await page.text('[aria-label=Charts]')).includes('Rail slide moment'));
  });
  it('whose joint is gone, that needs itself, or has a single record, says so', async () => {
    const told = (t: RegExp) => page.until(String(t), async () => t.test(await page.text('main')), 15_000);
    await page.script(
      `
      const file = new File([arguments[0]], 'odd.pivot.json', { type: 'application/json' }), data = new DataTransfer();
      data.items.add(file);
      document.querySelector('main').dispatchEvent(new DragEvent('drop', { bubbles: true, dataTransfer: data }));`,
      JSON.stringify({
        format: 'vim-pivot-model',
        version: 1,
        name: 'Odd gauges',
        run: { until: '1 ms', every: '1 s', accuracy: 1e-5 },
        points: [{ name: 'O' }],
        bodies: [{ name: 'Ball', mass: '1 kg', inertia: ['1 g*m^2', '1 g*m^2', '1 g*m^2'], origin: 'O' }],
        loads: [{ name: 'Gravity', kind: 'gravity' }],
        gauges: [{ name: 'Height', kind: 'point', body: 'Ball', at: 'O', of: 'position', component: 'z' }],
        sheets: [{ name: 'S' }],
        tiles: [
          { name: 'Few', kind: 'chart', sheet: 'S', gauges: ['Height'], as: 'spectrum' },
          { name: 'Lost', kind: 'chart', sheet: 'S', gauges: ['Nowhere'] },
        ],
      }),
    );
    await page.find('button', 'Project Odd gauges');
    await page.run();
    await page.click('button', 'Readings');
    await page.click('tab', 'S');
    await told(/at least 8 records/);
    await page.click('button', 'Build');
    await page.click('tab', /^Gauges/);
    await told(/Height/);
  });
});

describe('workings', () => {
  it('stand on a page, typeset, with the run beside them', async () => {
    await page.script(
      `
      const file = new File([arguments[0]], 'shaker.pivot.json', { type: 'application/json' }), data = new DataTransfer();
      data.items.add(file);
      document.querySelector('main').dispatchEvent(new DragEvent('drop', { bubbles: true, dataTransfer: data }));`,
      readFileSync('examples/shaker-head.pivot.json', 'utf8'),
    );
    await page.find('button', 'Project Shaker head', 15_000);
    await page.run();
    await page.click('button', 'Workings');
    await page.until('fractions', async () =>
      page.script<boolean>('return document.querySelectorAll(\'[data-formula="Angular acceleration"] .mfrac\').length > 0'),
    );
    const percent = (n: string) =>
      page.until(
        `the difference of ${n}`,
        async () =>
          page.script<string | null>(`return document.querySelector('[data-difference="' + arguments[0] + '"]')?.textContent ?? null`, n),
        20_000,
      );
    expect(Math.abs(parseFloat(await percent('Torque to spin up')))).toBeLessThan(0.01);
    expect(Math.abs(parseFloat(await percent('Power to spin up')))).toBeLessThan(0.01);
    await page.click('button', 'Build');
    await page.type('Value of eccentric', '60 mm');
    await page.click('button', 'Workings');
    // the run is of the machine as it was: by hand it is another now, beyond the tolerance
    await page.until('a difference that is told', async () => Math.abs(parseFloat(await percent('Torque to spin up'))) > 5);
    await page.click('button', 'Build');
    await page.until('the check', async () => /Torque to spin up/.test(await page.text('section[aria-label=Checks]')));
    await page.click('button', 'Undo');
  });
});

describe('runs', () => {
  it('wait in a queue while one goes on, and take the model as it was', async () => {
    await page.type('End time', '10000 s'); // goes on until it is cancelled, however fast the machine
    await page.click('button', 'Run');
    await page.click('button', /^Run next/);
    await page.type('End time', '1 s');
    await page.click('button', /^Run next/);
    await page.until('two wait', async () => (await page.text('section[aria-label="Run bar"]')).includes('(2)'));
    await page.click('button', 'Cancel');
    await page.until('the second goes on', async () => !(await page.text('section[aria-label="Run bar"]')).includes('(2)'));
    await page.click('button', 'Cancel');
    await page.until('the third is done', async () => /Run 4 done/.test(await page.status()), 30_000);
  });
  it('that are interrupted keep what was recorded', async () => {
    await page.type('End time', '10000 s');
    const before = await inStore('chunks', 'count');
    await page.click('button', 'Run');
    // a part is a quarter of a second of the machine at least
    await page.until('it has come some way, and that is kept', async () => (await inStore('chunks', 'count')) > before + 8);
    await page.driver.navigate().refresh();
    await page.find('button', 'Run', 20_000);
    await page.until('it is told', async () => /Run 5 cancelled/.test(await page.status()), 20_000);
    await page.until(
      'why',
      async () => /interrupted/.test(await page.script<string>("return document.querySelector('section[aria-label=Checks]').textContent")),
      10_000,
    );
    await page.click('button', 'Readings');
    await page.until(
      'its curve',
      async () =>
        (await page.script<number>(
          "const c = document.querySelector('[data-chart] canvas')?.plot; return c ? c.data.datasets[0]?.data.at(-1)?.x ?? 0 : 0",
        )) > 0.5,
      20_000,
    );
    await page.click('button', 'Build');
  });
  it('kept without postures, as by an earlier version, play and read all the same, and have them from then on', async () => {
    const postures = (act: 'clear' | 'count') => inStore('postures', act);
    const end = () =>
      page.script<number>("return Number(document.querySelector('[role=slider][aria-label=Time]').getAttribute('aria-valuemax'))");
    const before = await end();
    expect(before).toBeGreaterThan(0.5);
    expect(await postures('count')).toBeGreaterThan(0);
    await postures('clear');
    await page.driver.navigate().refresh();
    await page.find('button', 'Run', 20_000);
    await page.until('the run', async () => (await end()) === before, 20_000);
    await page.until('its postures in the store', async () => (await postures('count')) > 0);
    await page.click('button', 'Readings');
    await page.until(
      'its curve',
      async () =>
        (await page.script<number>(
          "const c = document.querySelector('[data-chart] canvas')?.plot; return c ? c.data.datasets[0]?.data.at(-1)?.x ?? 0 : 0",
        )) > 0.5,
      20_000,
    );
    await page.click('button', 'Build');
  });
  it('that the store has no room for are told, and nothing saved before is lost', async () => {
    await page.type('End time', '1 s');
    await page.script(
      `const add = IDBObjectStore.prototype.add; IDBObjectStore.prototype.add = function (...a) { if (this.name === 'chunks') throw new DOMException('full', 'QuotaExceededError'); return add.apply(this, a); };`,
    );
    await page.run();
    await page.until(
      'it is told',
      async () => /could not be kept/.test(await page.script<string>('return document.body.textContent')),
      15_000,
    );
    await page.driver.navigate().refresh();
    await page.find('button', 'Run', 20_000);
    await page.until('the runs before', async () => /Run 5/.test(await page.status()), 20_000);
  });
});
