/** Parts from files: units asked, checks told, one undo step; damaged and hostile files end in words and the project stays. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bumpyBall } from '../bench/large';
import { writeStep } from '../examples/tools/step';
import { boxStl } from './box-stl';
import { Page } from './browser';

let page: Page;
beforeAll(async () => {
  page = await Page.open();
  await page.find('button', 'Run');
});
afterAll(() => page?.close());

const give = async (name: string, data: Buffer | string) => {
  const file = join(page.downloads, name);
  writeFileSync(file, data);
  await page.driver.findElement(By.css('input[aria-label="Open a model file"]')).sendKeys(file);
};
const bodies = async () => Number(/Bodies (\d+)/.exec((await page.text('[role=tablist]')).replaceAll('\n', ' '))![1]);

describe('a mesh without a unit', () => {
  it('asks for the unit, tells the size it then has, and comes in with the mass it encloses', async () => {
    const before = await bodies();
    await give('block.stl', boxStl([20, 30, 40]));
    await page.until('the dialog', async () => (await page.text('[role=dialog]')).includes('The file has no unit'));
    expect(await page.text('[role=dialog]')).toMatch(/largest extent\s*40 mm/);
    await (await page.find('combobox', 'Unit of the file')).sendKeys('centimetres');
    await page.until('the other size', async () => /largest extent\s*400 mm/.test(await page.text('[role=dialog]')));
    await (await page.find('combobox', 'Unit of the file')).sendKeys('millimetres');
    await page.click('button', 'Import');
    await page.until('a body more', async () => (await bodies()) === before + 1);
    await page.until('drawn', async () => (await page.script<[number, number] | null>("return window.vimPivotSpot('Part')")) !== null);
    await page.click('button', 'Undo');
    await page.until('one undo step', async () => (await bodies()) === before);
  });

  it('with an open surface says so before and after', async () => {
    await give('open.stl', boxStl([20, 30, 40], true));
    await page.until('the warning', async () => (await page.text('[role=dialog]')).includes('open along 4 sides'));
    await page.click('button', 'Import');
    await page.until('the check', async () => {
      if (/Its surface is open along 4 sides/.test(await page.text('section[aria-label=Checks]'))) return true;
      await page.click('button', 'Next finding');
      return false;
    });
    await page.click('button', 'Undo');
  });
});

describe('a mesh that is not what it seems', () => {
  it('of two boxes that overlap tells that their mass counts twice; one that is inside out, that it is turned over', async () => {
    const before = await bodies(),
      one = boxStl([20, 30, 40]),
      both = Buffer.concat([one, one.subarray(84)]);
    both.writeUInt32LE(24, 80);
    // the second a third of the way on
    for (let t = 12; t < 24; t++)
      for (let v = 0; v < 3; v++) both.writeFloatLE(both.readFloatLE(84 + 50 * t + 12 + 12 * v) + 7, 84 + 50 * t + 12 + 12 * v);
    await give('overlap.stl', both);
    await page.until('the warning', async () =>
      /lie within one another.*counts twice in volume, mass and inertia/.test(await page.text('[role=dialog]')),
    );
    await page.click('button', 'Import');
    await page.until('a body more', async () => (await bodies()) === before + 1);
    await page.until('the check', async () => {
      if (/lie within one another/.test(await page.text('section[aria-label=Checks]'))) return true;
      await page.click('button', 'Next finding');
      return false;
    });
    // twice 20 × 30 × 40 mm³ of steel, though less is there
    await page.until('its mass', async () => (await (await page.find('textbox', 'Mass')).getAttribute('placeholder')) === '0.3768 kg');
    await page.click('button', 'Undo');
    const inverted = Buffer.from(one);
    for (let t = 0; t < 12; t++) {
      const at = 84 + 50 * t + 24; // two of its corners change places
      one.copy(inverted, at, at + 12, at + 24);
      one.copy(inverted, at + 12, at, at + 12);
    }
    await give('inverted.stl', inverted);
    await page.until('what is done', async () => (await page.text('[role=dialog]')).includes('inside out; it was turned over'));
    await page.click('button', 'Cancel');
  });
});

describe('a glTF file as text', () => {
  it('with its geometry within it and a picture on it comes in; one that keeps it elsewhere says so', async () => {
    const places = Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      indices = Uint16Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]);
    const data = Buffer.concat([Buffer.from(places.buffer), Buffer.from(indices.buffer)]);
    const file = (uri: string) =>
      JSON.stringify({
        asset: { version: '2.0' },
        scene: 0,
        scenes: [{ nodes: [0] }],
        nodes: [{ name: 'Wedge', mesh: 0 }],
        images: [{ uri: 'data:image/png;base64,AAAA' }],
        textures: [{ source: 0 }],
        materials: [{ pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1, material: 0 }] }],
        buffers: [{ byteLength: data.length, uri }],
        bufferViews: [
          { buffer: 0, byteLength: 48 },
          { buffer: 0, byteOffset: 48, byteLength: 24 },
        ],
        accessors: [
          { bufferView: 0, componentType: 5126, count: 4, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 1] },
          { bufferView: 1, componentType: 5123, count: 12, type: 'SCALAR' },
        ],
      });
    await give('wedge.gltf', file(`data:application/octet-stream;base64,${data.toString('base64')}`));
    await page.until('the part', async () => /^Wedge$/m.test(await page.text('[role=dialog]')));
    await page.click('button', 'Cancel');
    await give('apart.gltf', file('wedge.bin'));
    await page.until('the refusal', async () => (await page.text('[role=dialog]')).includes('in a file of its own, “wedge.bin”'));
    await page.click('button', 'Close');
  });
});

describe('a CAD assembly', () => {
  it('becomes the running machine: parts with tree and colours, joints on the axes found, a slide and a motor', async () => {
    await page.click('button', /^Project /);
    await page.click('menuitem', 'New empty project');
    await page.find('button', 'Project Untitled machine');
    await page.driver
      .findElement(By.css('input[aria-label="Open a model file"]'))
      .sendKeys(join(process.cwd(), 'examples/sorting-gate.step'));
    const words = await page.until(
      'the parts',
      async () => (await page.text('[role=dialog]')).includes('6 parts') && page.text('[role=dialog]'),
      30_000,
    );
    expect(words).toMatch(/Sorting gate\s+6 parts/);
    for (const part of ['Crank', 'Coupler', 'Rocker with yoke', 'Push rod', 'Pusher']) expect(words).toMatch(new RegExp(`^${part}$`, 'm'));
    expect(words.match(/radius 4 mm/g)?.length).toBe(6);
    expect(words).toContain('up to 0.29 % of the mass of a round part is missing');
    await (await page.find('combobox', 'Facets to a turn')).sendKeys('96');
    await page.until('read again, finer', async () => (await page.text('[role=dialog]')).includes('up to 0.071 % of the mass'), 30_000);
    await (await page.find('combobox', 'What Frame becomes')).sendKeys('Fixed');
    await page.click('button', 'Import');
    await page.until(
      'five bodies and six joints',
      async () =>
        /Bodies 5/.test((await page.text('[role=tablist]')).replaceAll('\n', ' ')) &&
        /Joints 6/.test((await page.text('[role=tablist]')).replaceAll('\n', ' ')),
    );
    await page.click('button', /Find or add/);
    const line = await page.until('the line', () => page.driver.findElement(By.css('[role=dialog] input')));
    for (const s of ['prismatic Rail between Frame and Pusher at Pusher pin about x', 'drive Motor on Crank pin 60 rpm']) {
      await line.sendKeys(s);
      await page.until(
        `“${s}” is not understood`,
        async () => (await page.text('[role=option][aria-selected=true]')).startsWith('Add'),
        3000,
      );
      await line.sendKeys(Key.ENTER);
    }
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.find('button', /^Mobility 1 · driven by Motor/);
    expect(await page.run()).toContain('done');
  });
});

describe('an assembly within an assembly', () => {
  it('is told as a tree; a group becomes one body, what is left of it bodies of their own', async () => {
    const before = await bodies(),
      corner = [0, 0] as const;
    const plate = (name: string, y: number) => ({
      name,
      colour: [0.3, 0.5, 0.4] as const,
      start: corner,
      sides: [{ to: [40, 0] as const }, { to: [40, 30] as const }, { to: [0, 30] as const }, { to: corner }],
      holes: [],
      from: y,
      to: y + 6,
    });
    const at = (name: string, x: number) => ({ name, at: [x, 0, 0] as const, z: [0, 0, 1] as const, x: [1, 0, 0] as const });
    await give(
      'cart.step',
      writeStep('Orchard cart', [
        plate('Floor', 0),
        {
          name: 'Axles',
          of: [
            { name: 'Wheel set', of: [plate('Rim', 10), plate('Tyre', 20)], places: [at('front', 0), at('rear', 200)] },
            plate('Drawbar', 40),
          ],
        },
      ]),
    );
    await (await page.find('combobox', 'What all of Wheel set (front) becomes')).sendKeys('One body');
    expect(await (await page.find('combobox', 'What all of Axles becomes')).getText()).toContain('Various');
    expect(
      await page.script<string[]>(
        "return [...document.querySelectorAll('ul[aria-label=Parts] [role=combobox]')].filter((s) => s.textContent === 'Part of Wheel set (front)').map((s) => s.ariaLabel)",
      ),
    ).toEqual(['What Rim becomes', 'What Tyre becomes']);
    await page.click('button', 'Fold Wheel set (rear)');
    await page.until(
      'folded',
      async () =>
        (await page.script<number>(
          "return [...document.querySelectorAll('ul[aria-label=Parts] [role=combobox]')].filter((s) => s.ariaLabel === 'What Rim becomes').length",
        )) === 1,
    );
    await page.click('button', 'Import');
    // floor, drawbar, rim and tyre behind, and both in front as one
    await page.until('five bodies more', async () => (await bodies()) === before + 5);
    await page.click('tab', /^Bodies/);
    await page.until(
      'the group by its name',
      async () => (await page.driver.findElements(By.css('tr[data-row="Wheel set (front)"]'))).length === 1,
    );
    await page.click('button', 'Undo');
    await page.until('one undo step', async () => (await bodies()) === before);
  });
});

describe('a large STEP file', () => {
  it('is read in pieces by several workers, and comes in whole', async () => {
    // large by empty lines alone
    const corner = [0, 0] as const;
    const plates = Array.from({ length: 60 }, (_, i) => ({
      name: `Slat ${i}`,
      colour: [0.3, 0.5, 0.4] as const,
      start: corner,
      sides: [{ to: [40 + i, 0] as const }, { to: [40 + i, 30] as const }, { to: [0, 30] as const }, { to: corner }],
      holes: [],
      from: 10 * i,
      to: 10 * i + 6,
    }));
    const text = writeStep('Stack', plates).replaceAll('MANIFOLD_SOLID_BREP(', `MANIFOLD_SOLID_BREP(${'\n'.repeat(140_000)}`);
    expect(text.length).toBeGreaterThan(8e6);
    await give('stack.step', text);
    const words = await page.until(
      'the parts',
      async () => (await page.text('[role=dialog]')).includes('60 parts') && page.text('[role=dialog]'),
      60_000,
    );
    expect(words).toMatch(/^Slat 0$/m);
    // rows in sight alone are drawn; the last comes when the list is scrolled to its end
    await page.script("const list = document.querySelector('ul[aria-label=Parts]'); list.scrollTop = list.scrollHeight");
    await page.until('the last part', async () => /^Slat 59$/m.test(await page.text('ul[aria-label=Parts]')));
    expect(await page.script<number>("return document.querySelectorAll('ul[aria-label=Parts] [role=combobox]').length")).toBeLessThan(30);
    await page.click('button', 'Cancel');
  });
});

describe('a mesh of 100 MB', () => {
  it('is read while the page answers, tells how far it is, and is stopped; the project stays', async () => {
    const before = await bodies();
    await page.script(`
      window.beats = 0;
      window.seen = new Set();
      const beat = () => { window.beats++; const d = document.querySelector('[role=dialog] [role=status]'); if (d) window.seen.add(d.textContent); requestAnimationFrame(beat); };
      beat();`);
    await give('ball.stl', Buffer.from(bumpyBall(1000)));
    await page.until(
      'reading',
      async () => (await page.script<string[]>('return [...window.seen]')).some((t) => /Reading|Part 1|Looking|Opening/.test(t)),
      60_000,
    );
    const beats = await page.script<number>('return window.beats');
    await page.click('button', 'Cancel');
    await page.until('the dialog gone', async () => (await page.driver.findElements(By.css('[role=dialog]'))).length === 0);
    // frames went by while it was read
    expect(beats).toBeGreaterThan(3);
    expect(await bodies()).toBe(before);
    await page.click('tab', /^Bodies/);
  });
});

describe('URDF', () => {
  it('opens as another project and says what it leaves out; a machine with loops is not written, and why', async () => {
    await give(
      'arm.urdf',
      '<robot name="Picking arm"><link name="Post"/><link name="Arm"><inertial><origin xyz="0 0 -0.5"/><mass value="2"/><inertia ixx="0.1" ixy="0" ixz="0" iyy="0.1" iyz="0" izz="0.01"/></inertial><visual><geometry><mesh filename="x.stl"/></geometry></visual></link><joint name="Shoulder" type="continuous"><parent link="Post"/><child link="Arm"/><origin xyz="0 0 1"/><axis xyz="1 0 0"/></joint></robot>',
    );
    await page.find('button', 'Project Picking arm');
    await page.until('what is left out', async () => {
      if (/mesh from another file is left out/.test(await page.text('section[aria-label=Checks]'))) return true;
      await page.click('button', 'Next finding');
      return false;
    });
    expect(await page.run()).toContain('done');
    await page.click('button', /^Project /);
    await page.click('menuitem', /^Projects, examples/);
    await page.click('radio', 'Examples');
    await (await page.until('the examples', async () => (await page.driver.findElements(By.css('[role=dialog] li button')))[0])).click();
    await page.find('button', 'Project Sorting gate');
    await page.until('assembled', async () => (await page.text('[title^="Degrees of freedom left"]')).startsWith('Mobility 1'));
    await page.click('button', 'Project Sorting gate');
    await page.click('menuitem', /^Export as URDF/);
    await page.until('why not', async () => {
      if (/closes a loop; URDF describes trees/.test(await page.text('section[aria-label=Checks]'))) return true;
      await page.click('button', 'Next finding');
      return false;
    });
  });
});

describe('damaged and hostile files', () => {
  const claim = boxStl([1, 1, 1]);
  claim.writeUInt32LE(0xffffffff, 80);
  it.each<[string, string, Buffer | string, RegExp]>([
    ['a header that claims 200 GB', 'claim.stl', claim, /claims 4294967295 triangles but has room for 12/],
    ['a file cut short', 'short.stl', boxStl([1, 1, 1]).subarray(0, 300), /damaged/],
    ['text that is no STEP', 'words.step', 'hello', /no STEP file/],
    ['a STEP file cut short', 'cut.step', "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\n", /damaged|cannot be read|no surface/],
    ['a binary glTF cut short', 'cut.glb', Buffer.from('glTF\x02\0\0\0\xff\0\0\0', 'latin1'), /cut short/],
    [
      'a PLY that claims too much',
      'many.ply',
      'ply\nformat ascii 1.0\nelement vertex 999999999\nproperty float x\nend_header\n',
      /claims 999999999/,
    ],
  ])('%s ends in words; the project stays', async (_what, name, data, words) => {
    const before = await bodies();
    await give(name, data);
    await page.until('the refusal', async () => (await page.text('[role=dialog]')).includes('was not opened'), 20_000);
    expect(await page.text('[role=dialog]')).toMatch(words);
    await page.click('button', 'Close');
    expect(await bodies()).toBe(before);
  });
});

it('shows no complaint of the browser', async () => {
  expect((await page.complaints()).filter((c) => !/WebGL|GL Driver/.test(c))).toEqual([]);
});
