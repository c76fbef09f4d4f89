/** Sheets of Readings: which is open, their tiles, and ready-made ones for common questions. */
import { create } from 'zustand';
import { type Model, type RawElement, kindOf, kindsOf } from '@vim-pivot/core/page';
import { edit, select, useDocument } from '../document/document';
import { freeName } from '../document/elements';

interface SheetsState {
  /** Name of the sheet that is open; left out: the gauges that are ticked. */
  open: string | undefined;
}
export const useSheets = create<SheetsState>(() => ({ open: undefined }));
export const openSheet = (open: string | undefined): void => useSheets.setState({ open });

/** Column, row, width, height. */
export type Place = readonly [number, number, number, number];

/** A field of a tile as it stands, or its default. */
export function tileValue(e: RawElement, key: string): unknown {
  const f = kindOf('tiles', e)?.fields[key];
  return e[key] ?? (f && 'default' in f ? f.default : undefined);
}
export const choiceOf = (e: RawElement, key: string): string => String(tileValue(e, key) ?? '');
export const namesOf = (e: RawElement, key: string): readonly string[] => (Array.isArray(e[key]) ? (e[key] as string[]) : []);
export const placeOf = (e: RawElement): Place => (tileValue(e, 'place') as Place[])[0] ?? [0, 0, 6, 8];
export const tilesOn = (model: Model | undefined, sheet: string | undefined): RawElement[] =>
  model && sheet !== undefined ? model.tiles.filter((t) => t.sheet === sheet && !t.off) : [];

/** The first row below all tiles of a sheet. */
const below = (tiles: readonly RawElement[]): number => Math.max(0, ...tiles.map((t) => placeOf(t)[1] + placeOf(t)[3]));

const SIZES: Readonly<Record<string, readonly [number, number]>> = {
  chart: [6, 8],
  motion: [6, 10],
  table: [6, 6],
  number: [3, 4],
  note: [4, 5],
  picture: [4, 7],
};

/** Adds a tile at the end of a sheet, and selects it. */
export function addTile(kind: string, fields: Partial<RawElement> = {}): void {
  const { model } = useDocument.getState(),
    { open } = useSheets.getState();
  if (!model || open === undefined) return;
  const name = freeName('tiles', kindsOf('tiles').find((k) => k.kind === kind)!.label, model),
    [w, h] = SIZES[kind]!;
  edit(`Add ${name}`, (m) => {
    const there = tilesOn(m, open),
      even = evenPlaces(there.length),
      next = evenPlaces(there.length + 1);
    // a sheet on which nothing was moved by hand stays arranged over the whole of it
    const arranged = there.length > 0 && there.every((t, i) => String(placeOf(t)) === String(there.length === 1 ? placeOf(t) : even[i]));
    if (arranged) there.forEach((t, i) => (t.place = [next[i]!] as never));
    m.tiles.push({
      name,
      kind,
      sheet: open,
      place: [arranged ? next.at(-1)! : [0, below(there), w, h]],
      ...fields,
    } as unknown as RawElement);
  });
  select({ family: 'tiles', name });
}

export function changeTile(name: string, label: string, change: Readonly<Record<string, unknown>>): void {
  edit(label, (m) => {
    const t = m.tiles.find((x) => x.name === name);
    for (const [k, v] of Object.entries(change))
      if (t) {
        if (v === undefined) Reflect.deleteProperty(t, k);
        else t[k] = v as never;
      }
  });
}

/** Tiles were dragged or resized: one undo step. */
export function arrange(places: ReadonlyMap<string, Place>): void {
  const { model } = useDocument.getState();
  const moved = model?.tiles.filter((t) => places.has(t.name) && String(places.get(t.name)) !== String(placeOf(t))) ?? [];
  if (moved.length === 0) return;
  edit('Arrange tiles', (m) => {
    for (const t of m.tiles) {
      const p = places.get(t.name);
      if (p) t.place = [p] as never;
    }
  });
}

/** Rows that a sheet shows at once on a usual screen. */
const TALL = 16;
/** Even places for so many tiles: as nearly square a field of them as can be, the last row filled. */
export function evenPlaces(count: number): Place[] {
  const columns = count <= 1 ? 1 : count <= 4 ? 2 : 3,
    rows = Math.ceil(count / columns),
    height = Math.max(6, Math.floor(TALL / rows));
  return Array.from({ length: count }, (_, i): Place => {
    const row = Math.floor(i / columns),
      inRow = row < rows - 1 ? columns : count - columns * (rows - 1),
      width = 12 / inRow;
    return [(i % columns) * width, row * height, width, height];
  });
}
/** Arranges all tiles of a sheet over the whole of it, in the order in which they stand. */
export function arrangeEvenly(sheet: string): void {
  const tiles = tilesOn(useDocument.getState().model, sheet).sort((a, b) => placeOf(a)[1] - placeOf(b)[1] || placeOf(a)[0] - placeOf(b)[0]),
    places = evenPlaces(tiles.length);
  arrange(new Map(tiles.map((t, i) => [t.name, places[i]!])));
}

/** Ticks a gauge of a tile, or takes the tick away. */
export function toggleGauge(tile: RawElement, gauge: string): void {
  const names = namesOf(tile, 'gauges'),
    has = names.includes(gauge);
  changeTile(tile.name, has ? `Take ${gauge} off ${tile.name}` : `Put ${gauge} on ${tile.name}`, {
    gauges: has ? names.filter((n) => n !== gauge) : [...names, gauge],
  });
}

export function addSheet(): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const name = freeName('sheets', 'Sheet', model);
  edit(`Add ${name}`, (m) => void m.sheets.push({ name }));
  openSheet(name);
}

/** Deletes a sheet with its tiles. */
export function removeSheet(name: string): void {
  edit(`Delete ${name}`, (m) => {
    m.sheets = m.sheets.filter((s) => s.name !== name);
    m.tiles = m.tiles.filter((t) => t.sheet !== name);
  });
  if (useSheets.getState().open === name) openSheet(undefined);
}

/** What a ready-made sheet brings. Gauges and scores are only added where there is none that reads the same. */
interface Made {
  gauges: RawElement[];
  scores?: RawElement[];
  tiles: (Omit<RawElement, 'name'> & { name: string; place: Place[] })[];
}
interface Ready {
  label: string;
  help: string;
  /** What it needs, in words, when `make` gives nothing. */
  needs: string;
  make(m: Model): Made | undefined;
}

const live = (list: readonly RawElement[]) => list.filter((e) => !e.off);
const gauge = (name: string, kind: string, fields: Record<string, unknown>): RawElement => ({ name, kind, ...fields }) as RawElement;
const number = (name: string, score: string, place: Place) => ({ name, kind: 'number', score, place: [place] });

/** Joints that a gauge can read: those with a freedom. */
const turning = (m: Model): RawElement | undefined =>
  live(m.joints).find((j) => (kindOf('joints', j)?.freedoms ?? []).length > 0 && live(m.drives).some((d) => d.joint === j.name)) ??
  live(m.joints).find((j) => (kindOf('joints', j)?.freedoms ?? []).length > 0);

export const READY: readonly Ready[] = [
  {
    label: 'Motor sizing',
    help: 'Torque, speed and power of a drive, torque over speed, peak and effective torque.',
    needs: 'a drive on a joint',
    make(m) {
      const d = live(m.drives).find((x) => x.joint !== undefined && x.joint !== '');
      if (!d) return undefined;
      const joint = m.joints.find((j) => j.name === d.joint),
        force = d.freedom === 'translation' || (joint && kindOf('joints', joint)?.freedoms?.[0] === 'translation') ? 'force' : 'torque';
      const [effort, speed, power] = [`${d.name} ${force}`, `${d.name} speed`, `${d.name} power`];
      return {
        gauges: [
          gauge(effort, 'drive', { drive: d.name, of: 'effort' }),
          gauge(speed, 'joint', { joint: d.joint, ...(d.freedom ? { freedom: d.freedom } : {}), of: 'rate' }),
          gauge(power, 'drive', { drive: d.name, of: 'power' }),
        ],
        scores: [
          { name: `${effort}, peak`, gauge: effort, of: 'peak' },
          { name: `${effort}, RMS`, gauge: effort, of: 'rms' },
          { name: `${power}, peak`, gauge: power, of: 'peak' },
          { name: `${speed}, peak`, gauge: speed, of: 'peak' },
        ],
        tiles: [
          { name: `${d.name}: ${force} and speed`, kind: 'chart', gauges: [effort, speed], place: [[0, 0, 7, 8]] },
          { name: `${d.name}: ${force} over speed`, kind: 'chart', gauges: [effort], over: speed, place: [[7, 0, 5, 8]] },
          { name: `${d.name}: power`, kind: 'chart', gauges: [power], place: [[0, 8, 7, 8]] },
          number(`${d.name}: peak ${force}`, `${effort}, peak`, [7, 8, 5, 4]),
          number(`${d.name}: effective ${force}`, `${effort}, RMS`, [7, 12, 5, 4]),
        ],
      };
    },
  },
  {
    label: 'Joint loads',
    help: 'The force in every joint, and where each is largest.',
    needs: 'a joint',
    make(m) {
      const joints = live(m.joints).slice(0, 8);
      if (joints.length === 0) return undefined;
      const gauges = joints.map((j) => gauge(`${j.name} force`, 'reaction', { joint: j.name, of: 'force' })),
        names = gauges.map((g) => g.name);
      return {
        gauges,
        tiles: [
          { name: 'Joint forces', kind: 'chart', gauges: names, place: [[0, 0, 7, 10]] },
          { name: 'Machine under load', kind: 'motion', place: [[7, 0, 5, 10]] },
          { name: 'Joint forces in numbers', kind: 'table', gauges: names, place: [[0, 10, 12, 6]] },
        ],
      };
    },
  },
  {
    label: 'Stroke timing',
    help: 'A travel, its speed, its table at the cursors, and the machine.',
    needs: 'a gauge, or a joint',
    make(m) {
      const own = live(m.gauges)[0],
        j = turning(m);
      const name = own?.name ?? (j ? `${j.name} travel` : undefined);
      if (name === undefined) return undefined;
      const speed = `${name}, rate`;
      return {
        gauges: [
          ...(own || !j ? [] : [gauge(name, 'joint', { joint: j.name })]),
          gauge(speed, 'formula', { value: `{${name}}`, then: 'derivative' }),
        ],
        tiles: [
          { name: `${name} over time`, kind: 'chart', gauges: [name], place: [[5, 0, 7, 8]] },
          { name: `${speed} over time`, kind: 'chart', gauges: [speed], place: [[5, 8, 7, 7]] },
          { name: 'Strokes', kind: 'motion', place: [[0, 0, 5, 10]] },
          { name: `${name} at the cursors`, kind: 'table', gauges: [name, speed], place: [[0, 10, 5, 5]] },
        ],
      };
    },
  },
  {
    label: 'Phase plane',
    help: 'The speed of a joint over its travel.',
    needs: 'a joint with a freedom',
    make(m) {
      const j = turning(m);
      if (!j) return undefined;
      const [x, v] = [`${j.name} travel`, `${j.name} rate`];
      return {
        gauges: [gauge(x, 'joint', { joint: j.name }), gauge(v, 'joint', { joint: j.name, of: 'rate' })],
        tiles: [
          { name: `${j.name}: phase plane`, kind: 'chart', gauges: [v], over: x, place: [[0, 0, 7, 12]] },
          { name: `${j.name}: machine`, kind: 'motion', place: [[7, 0, 5, 12]] },
        ],
      };
    },
  },
  {
    label: 'Energy',
    help: 'Where the energy is, and how well its books close.',
    needs: 'a body',
    make(m) {
      if (m.bodies.length + m.instances.length === 0) return undefined;
      const of = {
        'Kinetic energy': 'kinetic',
        'Potential energy': 'potential',
        'Total energy': 'total',
        'Energy left over': 'closing',
      } as const;
      return {
        gauges: Object.entries(of).map(([n, x]) => gauge(n, 'energy', { of: x })),
        scores: [{ name: 'Energy left over, peak', gauge: 'Energy left over', of: 'peak' }],
        tiles: [
          { name: 'Energies', kind: 'chart', gauges: ['Kinetic energy', 'Potential energy', 'Total energy'], place: [[0, 0, 8, 9]] },
          { name: 'Closing error', kind: 'chart', gauges: ['Energy left over'], place: [[0, 9, 8, 7]] },
          number('Largest closing error', 'Energy left over, peak', [8, 0, 4, 4]),
        ],
      };
    },
  },
];

const bare = ({ name: _name, note: _note, ...rest }: RawElement) => JSON.stringify(Object.entries(rest).sort());

/** Puts a ready-made sheet in, with the gauges and scores it needs, as one undo step. */
export function addReady(ready: Ready): void {
  const { model } = useDocument.getState();
  const made = model && ready.make(model);
  if (!model || !made) return;
  const sheet = freeName('sheets', ready.label, model);
  edit(`Add ${sheet}`, (m) => {
    const called = new Map<string, string>(),
      to = (n: unknown) => called.get(String(n)) ?? (n as string);
    for (const family of ['gauges', 'scores'] as const)
      for (const e of made[family] ?? []) {
        const own: RawElement = {
          ...e,
          ...(e.gauge === undefined ? {} : { gauge: to(e.gauge) }),
          ...(typeof e.value === 'string' ? { value: e.value.replace(/\{([^{}]+)\}/g, (_, n: string) => `{${to(n)}}`) } : {}),
        } as RawElement;
        const same = m[family].find((x) => bare(x) === bare(own));
        const name = same?.name ?? freeName(family, e.name, m);
        called.set(e.name, name);
        if (!same) m[family].push({ ...own, name });
      }
    m.sheets.push({ name: sheet });
    for (const t of made.tiles)
      m.tiles.push({
        ...t,
        name: freeName('tiles', t.name, m),
        sheet,
        ...(t.gauges ? { gauges: (t.gauges as unknown as string[]).map(to) } : {}),
        ...(t.over ? { over: to(t.over) } : {}),
        ...(t.score ? { score: to(t.score) } : {}),
      } as never);
  });
  openSheet(sheet);
}
