/** Names in the scene: of what is selected, and of the kinds the user asks for; where two would overlap the later one is left out. */
import type { Family } from '@vim-pivot/core/page';
import type { Stage } from './stage';

interface Named {
  family: Family;
  name: string;
  spot: { body: number; at: readonly [number, number, number] };
}

export class Labels {
  private readonly pool: HTMLSpanElement[] = [];
  private always: readonly { family: Family; name: string }[] = [];
  private families: readonly Family[] = [];

  constructor(
    private readonly stage: Stage,
    private readonly layer: HTMLElement,
  ) {}

  choose(always: readonly { family: Family; name: string }[], families: readonly Family[]): void {
    this.always = always;
    this.families = families;
    this.place();
  }

  private wanted(): Named[] {
    const { machine } = this.stage;
    if (!machine || (this.always.length === 0 && this.families.length === 0)) return [];
    const { points, joints, bodies } = machine.picture;
    const all: Named[] = [
      ...points.map((p): Named => ({ family: 'points', name: p.name, spot: p })),
      ...joints.map((j): Named => ({ family: 'joints', name: j.name, spot: j.place })),
      ...bodies.map((name, body): Named => ({ family: 'bodies', name, spot: { body, at: [0, 0, 0] } })),
    ];
    const chosen = (n: Named) => this.always.some((a) => a.family === n.family && a.name === n.name);
    return [...all.filter(chosen), ...all.filter((n) => !chosen(n) && this.families.includes(n.family))].filter((n) =>
      machine.shows(n.spot.body),
    );
  }

  /** Writes the names where they are now; called after every frame. */
  readonly place = (): void => {
    const taken: [number, number, number, number][] = [];
    let used = 0;
    for (const n of this.wanted()) {
      const [x, y] = this.stage.onScreen(this.stage.spotOf(n.spot));
      const left = x + 8,
        top = y - 20,
        right = left + 7 * n.name.length + 8,
        bottom = top + 17;
      if (taken.some(([a, b, c, d]) => left < c && right > a && top < d && bottom > b)) continue;
      taken.push([left, top, right, bottom]);
      const label = (this.pool[used] ??= this.make());
      used++;
      if (label.textContent !== n.name) label.textContent = n.name;
      label.dataset.family = n.family;
      label.style.transform = `translate(${left.toFixed(1)}px, ${top.toFixed(1)}px)`;
      label.style.display = '';
    }
    for (let i = used; i < this.pool.length; i++) this.pool[i]!.style.display = 'none';
  };

  private make(): HTMLSpanElement {
    const span = document.createElement('span');
    span.className =
      'pointer-events-none absolute left-0 top-0 whitespace-nowrap rounded bg-sheet/85 px-1 text-xs text-ink data-[family=points]:font-mono data-[family=joints]:text-ink-2 data-[family=bodies]:font-medium';
    this.layer.append(span);
    return span;
  }
}
