'use client';
import { fixed } from '@vim-pivot/core/page';
import { Eye, X } from 'lucide-react';
import type { Box3, Vector3 } from 'three';
import type { Family } from '@vim-pivot/core/page';
import { edit, useDocument } from '@/state/document/document';
import { type AxisName, look, showAll, toggleClear, toggleHidden, useView } from '@/state/scene/view';
import { Segmented } from '@/ui/segmented';
import { Slide } from '@/ui/slide';
import { CheckBox } from '@/ui/check';

const NAMED: readonly (readonly [Family, string])[] = [
  ['bodies', 'Bodies'],
  ['joints', 'Joints'],
  ['points', 'Points'],
];

/** How the scene is looked at. */
export function ViewPanel({
  box,
  from,
  onFitMotion,
  onClose,
}: {
  box: Box3;
  /** Direction to the camera. */ from: Vector3;
  /** Left out while no run is shown. */ onFitMotion: (() => void) | undefined;
  onClose: () => void;
}) {
  const seen = useView();
  const model = useDocument((s) => s.model);
  if (!model) return null;
  return (
    <section aria-label="View" className="absolute right-3 top-12 z-10 w-72 rounded-xl border border-line bg-sheet p-3 shadow-lg">
      <header className="mb-2 flex items-center">
        <h2 className="flex-1 font-semibold">View</h2>
        <button aria-label="Close View" onClick={onClose} className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent">
          <X size={15} aria-hidden="true" />
        </button>
      </header>
      <div className="grid grid-cols-[auto_1fr] items-center justify-items-start gap-x-3 gap-y-2">
        <span className="text-ink-2">Up</span>
        <Segmented
          label="Axis that points up"
          value={model.up ?? 'z'}
          options={[
            ['x', 'x'],
            ['y', 'y'],
            ['z', 'z'],
          ]}
          onChange={(v) =>
            edit(`Draw with ${v} up`, (m) => {
              if (v === 'z') delete m.up;
              else m.up = v as AxisName;
            })
          }
        />
        <span className="text-ink-2">Lens</span>
        <Segmented
          label="Lens"
          value={seen.lens}
          options={[
            ['parallel', 'Parallel'],
            ['perspective', 'Perspective'],
          ]}
          onChange={(v) => look({ lens: v as 'parallel' })}
        />
        <span className="text-ink-2">Fit</span>
        <button
          disabled={!onFitMotion}
          onClick={onFitMotion}
          title={onFitMotion ? 'All that the machine reaches in the run (Shift+F)' : 'Show a run first'}
          className="rounded-md border border-line px-2 py-0.5 hover:border-ink-2 disabled:opacity-45"
        >
          The whole motion
        </button>
        <span className="text-ink-2">Names</span>
        <span className="flex gap-3">
          {NAMED.map(([f, text]) => (
            <label key={f} className="flex cursor-pointer items-center gap-1">
              <CheckBox
                checked={seen.labels.includes(f)}
                onChange={(on) => look({ labels: on ? [...seen.labels, f] : seen.labels.filter((x) => x !== f) })}
              />
              {text}
            </label>
          ))}
        </span>
        <Section box={box} from={from} />
      </div>
      <p className="mt-3 border-t border-line pt-2 text-xs text-ink-2">
        Keys in the scene: arrows turn, + and − zoom, F all, E next edge or face, Alt with arrows and page keys move what is selected.
      </p>
      <Away ground={model.ground} />
    </section>
  );
}

/** Cuts the machine square to an axis. */
function Section({ box, from }: { box: Box3; from: Vector3 }) {
  const { cut } = useView();
  const range = (axis: AxisName) => [box.min[axis] * 1000, box.max[axis] * 1000] as const;
  const [lo, hi] = range(cut?.axis ?? 'y');
  return (
    <>
      <span className="text-ink-2">Section</span>
      <Segmented
        label="Section square to"
        value={cut?.axis ?? 'off'}
        options={[
          ['off', 'Off'],
          ['x', 'x'],
          ['y', 'y'],
          ['z', 'z'],
        ]}
        onChange={(v) => {
          if (v === 'off') return look({ cut: undefined });
          const [a, b] = range(v as AxisName);
          look({ cut: { axis: v as AxisName, at: (a + b) / 2000, flip: from[v as AxisName] < 0 } });
        }}
      />
      {cut && (
        <>
          <span className="text-ink-2">at</span>
          <span className="flex w-full items-center gap-2">
            <Slide
              label={`Section at ${cut.axis}`}
              min={lo}
              max={hi}
              step={(hi - lo) / 200}
              value={cut.at * 1000}
              onChange={(v) => look({ cut: { ...cut, at: v / 1000 } })}
              className="min-w-0 flex-1"
            />
            <span className="w-16 text-right font-mono text-xs">{fixed(cut.at * 1000, 1)} mm</span>
          </span>
          <span />
          <button
            onClick={() => look({ cut: { ...cut, flip: !cut.flip } })}
            className="justify-self-start rounded-md border border-line px-2 py-0.5 hover:border-ink-2"
          >
            Keep the other side
          </button>
        </>
      )}
    </>
  );
}

/** What is hidden or seen through, and how it comes back. */
function Away({ ground }: { ground: string }) {
  const seen = useView();
  const label = (name: string) => (name === '' ? ground : name);
  const away = [
    ...seen.hidden.map((n) => [n, 'hidden', toggleHidden] as const),
    ...seen.clear.map((n) => [n, 'seen through', toggleClear] as const),
  ];
  if (away.length === 0) return null;
  return (
    <div className="mt-3 border-t border-line pt-2">
      <ul className="max-h-40 overflow-auto">
        {away.map(([name, how, back]) => (
          <li key={`${how}/${name}`} className="flex items-center gap-2 py-0.5">
            <span className="min-w-0 flex-1 truncate">
              {label(name)} <span className="text-ink-2">{how}</span>
            </span>
            <button
              onClick={() => back(name)}
              aria-label={`Show ${label(name)} again`}
              className="grid h-6 w-6 place-items-center rounded text-ink-2 hover:text-accent"
            >
              <Eye size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      <button onClick={showAll} className="mt-1 rounded-md border border-line px-2 py-0.5 hover:border-ink-2">
        Show all
      </button>
    </div>
  );
}
