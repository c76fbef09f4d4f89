/** Work is not lost: two windows at once, a full store, damaged rows, lost workers; and the server keeps to itself. */
import { networkInterfaces } from 'node:os';
import { connect } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { By, Key, Page } from './browser';
import { PORT, URL } from './server';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const value = async (name: string) => (await page.find('textbox', `Value of ${name}`)).getAttribute('value');
/** The model as the store has it. */
const stored = (expression: string) =>
  page.driver.executeAsyncScript<unknown>(`
  const done = arguments[arguments.length - 1], ask = indexedDB.open('vim-pivot');
  ask.onsuccess = () => {
    const all = ask.result.transaction('projects').objectStore('projects').getAll();
    all.onsuccess = () => { ask.result.close(); const row = all.result.find((r) => r.name === 'Sorting gate'); done(${expression}); };
  };`);
const parameter = (name: string) => stored(`row.model.parameters.find((p) => p.name === '${name}').value`);
const cdp = (method: string, params: object) =>
  (page.driver as unknown as { sendDevToolsCommand(m: string, p: object): Promise<void> }).sendDevToolsCommand(method, params);

describe('two windows', () => {
  it('of edits made at the same time in both none is lost, and both show the same in the end', async () => {
    const first = await page.driver.getWindowHandle();
    await page.driver.switchTo().newWindow('tab');
    await page.driver.get(URL);
    await page.until('the same project', async () => (await value('arm')) === '60 mm');
    const second = await page.driver.getWindowHandle();
    for (let round = 0; round < 6; round++) {
      // both edits fall within the time in which neither has saved
      await page.type('Value of arm', `${61 + round} mm`);
      await page.driver.switchTo().window(first);
      await page.type('Value of rocker_length', `${151 + round} mm`);
      for (const w of [second, first]) {
        await page.driver.switchTo().window(w);
        await page.until(
          `both edits in each window, round ${round}`,
          async () => (await value('arm')) === `${61 + round} mm` && (await value('rocker_length')) === `${151 + round} mm`,
        );
      }
      await page.driver.switchTo().window(second);
    }
    await page.until(
      'the store has both',
      async () => (await parameter('arm')) === '66 mm' && (await parameter('rocker_length')) === '156 mm',
    );
    await page.driver.close();
    await page.driver.switchTo().window(first);
  });
});

describe('a store without room', () => {
  it('is told in the header, saving resumes by itself once there is room, and a reload has every edit', async () => {
    const refuse = `if (!window.realPut) { window.realPut = IDBObjectStore.prototype.put; IDBObjectStore.prototype.put = function (...a) { if (window.full && this.name === 'projects') throw new DOMException('full', 'QuotaExceededError'); return window.realPut.apply(this, a); }; }`;
    await page.script(`${refuse} window.full = true;`);
    await page.type('Value of arm', '62 mm');
    await page.until('the header says so', async () => /not saved/.test(await page.text('header')));
    expect(await page.text('header')).not.toMatch(/saved here/);
    await page.type('Value of rocker_length', '153 mm');
    await page.click('button', 'Export model');
    await page.script('window.full = false;');
    await page.until('saved by itself', async () => /saved here/.test(await page.text('header')), 20_000);
    expect(await parameter('arm')).toBe('62 mm');
    await page.driver.navigate().refresh();
    await page.until('all of it is there', async () => (await value('arm')) === '62 mm' && (await value('rocker_length')) === '153 mm');
  });
  it('likewise when the browser has closed its connection for good, as it does on a full disk', async () => {
    await cdp('Page.addScriptToEvaluateOnNewDocument', {
      source: `
      window.dbs = [];
      const open = IDBFactory.prototype.open, put = IDBObjectStore.prototype.put;
      IDBFactory.prototype.open = function (...a) {
        if (window.diskFull) throw new DOMException('Internal error opening backing store for indexedDB.open.', 'UnknownError');
        const r = open.apply(this, a);
        r.addEventListener('success', () => window.dbs.push(r.result));
        return r;
      };
      IDBObjectStore.prototype.put = function (...a) {
        if (window.diskFull) throw new DOMException('The transaction was aborted, so the request cannot be fulfilled.', 'AbortError');
        return put.apply(this, a);
      };`,
    });
    await page.driver.navigate().refresh();
    await page.find('button', 'Run');
    await page.script('window.diskFull = true; for (const db of window.dbs) db.close();');
    await page.type('Value of arm', '63 mm');
    await page.until('the header says so', async () => /not saved/.test(await page.text('header')));
    expect(await page.script<string>('return document.querySelector("header [role=status]").title')).toMatch(/disk may be full/);
    await page.script('window.diskFull = false;');
    await page.until('saved by itself', async () => /saved here/.test(await page.text('header')));
    expect(await parameter('arm')).toBe('63 mm');
    await page.driver.navigate().refresh();
    await page.until('it is there', async () => (await value('arm')) === '63 mm');
  });
});

describe('a worker that is lost', () => {
  it('is told, another takes its place, and what it knew is asked for again: a kept run is read, the next run runs', async () => {
    await cdp('Page.addScriptToEvaluateOnNewDocument', {
      source: `window.workers = []; const Own = window.Worker; window.Worker = class extends Own { constructor(...a) { super(...a); window.workers.push(this); } };`,
    });
    await page.driver.navigate().refresh();
    await page.run();
    await page.script(`for (const w of window.workers) w.dispatchEvent(new ErrorEvent('error', { message: 'out of memory' }));`);
    await page.until('it is told', async () => /was started anew/.test(await page.text('body')));
    await page.type('Value of arm', '63.5 mm');
    await page.until('edits are checked again', async () => (await page.script<number>('return window.workers.length')) > 2);
    await page.click('button', 'Readings');
    await page.until('the run is read by the new worker', async () => (await page.driver.findElements(By.css('canvas'))).length > 1);
    await page.click('button', 'Build');
    await page.type('Value of arm', '63 mm');
    expect(await page.run()).toMatch(/done/);
  });
});

describe('damaged rows in the store', () => {
  it('do not lock the rest out: they are shown as such, exported, deleted; the others open', async () => {
    await page.run();
    await page.driver.sleep(500);
    await page.driver.executeAsyncScript(`
      const done = arguments[arguments.length - 1], ask = indexedDB.open('vim-pivot');
      ask.onsuccess = () => {
        const t = ask.result.transaction(['projects', 'runs'], 'readwrite'), projects = t.objectStore('projects'), runs = t.objectStore('runs');
        const all = projects.getAll();
        all.onsuccess = () => {
          const row = all.result.find((r) => r.name === 'Sorting gate');
          projects.put({ id: 'broken-1', name: 'Garbage', changed: Date.now() + 1e6, model: 'no model' });
          projects.put({ id: 'broken-2', model: { points: [null], bodies: 7 } });
          runs.put({ id: 'broken-run', project: row.id });
          localStorage.setItem('last-project', 'broken-1');
          t.oncomplete = () => { ask.result.close(); done(); };
        };
      };`);
    await page.driver.navigate().refresh();
    await page.find('button', 'Run');
    await page.click('button', /^Project /);
    await page.click('menuitem', 'Projects, examples, beginnings…');
    await page.until('both are shown as damaged', async () => ((await page.text('[role=dialog]')).match(/Damaged/g) ?? []).length === 2);
    await page.click('button', 'Open Sorting gate');
    await page.until('the project is there', async () => (await value('arm')) === '63 mm');
    await page.click('button', 'Readings');
    await page.until('the damaged run is listed', async () => /A damaged run/.test(await page.text('[aria-label=Runs]')));
    await page.click('button', 'Delete the damaged run');
    await page.until('it is gone', async () => !/damaged/.test(await page.text('[aria-label=Runs]')));
    expect((await page.driver.findElements(By.css('[aria-label=Runs] li'))).length).toBeGreaterThan(0);
    await page.click('button', 'Build');
  });
});

describe('the server', () => {
  it('listens to this machine alone', async () => {
    const outside = Object.values(networkInterfaces())
      .flat()
      .filter((a) => a && !a.internal && a.family === 'IPv4');
    for (const a of outside) {
      const open = await new Promise<boolean>((resolve) => {
        const s = connect({ host: a!.address, port: PORT, timeout: 3000 }, () => (s.destroy(), resolve(true)));
        s.on('error', () => resolve(false)).on('timeout', () => (s.destroy(), resolve(false)));
      });
      expect(open, a!.address).toBe(false);
    }
  });
  it('sends its policies with pages, scripts and static files', async () => {
    const html = await (await fetch(URL)).text(),
      script = /\/_next\/static\/[^"]+\.js/.exec(html)![0];
    for (const path of ['/', script, '/engine/engine.js', '/engine/manifold.wasm', '/icon.svg']) {
      const { headers } = await fetch(URL + path);
      expect(headers.get('x-content-type-options'), path).toBe('nosniff');
      expect(headers.get('cross-origin-opener-policy'), path).toBe('same-origin');
      expect(headers.get('cross-origin-resource-policy'), path).toBe('same-origin');
      expect(headers.get('permissions-policy'), path).toMatch(/camera=\(\)/);
    }
    expect((await fetch(URL)).headers.get('content-security-policy')).toMatch(/default-src 'none'/);
  });
  it('shows what the program is made with', async () => {
    await page.click('button', /^Project /);
    await page.click('menuitem', 'About and licences…');
    await page.until('the notices', async () => /occt-import-js.*LGPL/.test(await page.text('[aria-label="Third-party notices"]')));
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
  });
});

it('leaves no complaint behind but those provoked', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver|QuotaExceeded|InvalidState|Dexie: /.test(c))).toEqual([]);
});
