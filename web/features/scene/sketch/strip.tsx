import { kindOf } from '@vim-pivot/core/page';
import { edit, select, useDocument } from '@/state/document/document';
import { sketch } from '@/state/asking';
import { freeName } from '@/state/document/elements';
import { Segmented } from '@/ui/segmented';

export type Tool = 'bar' | 'rail';
/** What a motor turns or pushes at when nothing else is said. */
const PACE = { rotation: '60 rpm', translation: '100 mm/s' } as const;

interface Props {
  where: string;
  tool: Tool;
  onTool: (t: Tool) => void;
  parameters: boolean;
  onParameters: (on: boolean) => void;
  /** Puts a bearing at the free end of the bar drawn last, where there is one. */
  onBearing: (() => void) | undefined;
  bearingOf: string | undefined;
  /** The joints will move the machine from where it is drawn. */
  apart: boolean;
  /** Gives the keys back to the sheet. */
  back: () => void;
}

/** What drawing offers, above the sheet. */
export function Strip({ where, tool, onTool, parameters, onParameters, onBearing, bearingOf, apart, back }: Props) {
  const button = 'rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:text-accent';
  return (
    <div className="pointer-events-none absolute left-3 top-[46px] flex flex-wrap items-center gap-2" role="toolbar" aria-label="Sketch">
      <button
        onClick={() => sketch(false)}
        className="pointer-events-auto rounded-full border border-accent bg-accent-soft px-2.5 py-1 font-medium text-accent"
        title="Leaves the sheet"
      >
        Sketching {where} · Esc ends
      </button>
      <span className="pointer-events-auto">
        <Segmented
          label="A stroke is a"
          value={tool}
          options={[
            ['bar', 'Bar'],
            ['rail', 'Ground line'],
          ]}
          onChange={(t) => (onTool(t as Tool), back())}
        />
      </span>
      <button
        aria-pressed={parameters}
        onClick={() => (onParameters(!parameters), back())}
        title="Bars drawn from now on have a parameter each for their length"
        className={`pointer-events-auto rounded-md border px-2.5 py-1 font-medium ${parameters ? 'border-calm bg-calm-soft text-calm' : 'border-line bg-sheet text-ink-2 hover:text-ink'}`}
      >
        Lengths as parameters
      </button>
      {onBearing && (
        <button
          onClick={() => (onBearing(), back())}
          className={`${button} pointer-events-auto`}
          title={`A bearing on the ground at the free end of ${bearingOf} (G)`}
        >
          Bearing at its end
        </button>
      )}
      {apart && (
        <span
          role="note"
          className="rounded-full border border-line bg-sheet px-2.5 py-1 text-ink-2"
          title="Points stand where they are drawn. When the sketch ends, the joints bring the machine together, and it moves to where they hold it"
        >
          As drawn; its joints will move it
        </span>
      )}
      <Motor className={`${button} pointer-events-auto`} />
    </div>
  );
}

/** A motor for the joint that is picked. */
function Motor({ className }: { className: string }) {
  const model = useDocument((s) => s.model);
  const one = useDocument((s) => (s.picked.length === 1 ? s.picked[0] : undefined));
  const joint = one?.family === 'joints' ? model?.joints.find((j) => j.name === one.name) : undefined;
  const freedom = joint && kindOf('joints', joint)?.freedoms?.[0];
  if (!model || !joint || !freedom || model.drives.some((d) => d.joint === joint.name)) return null;
  const add = () => {
    const name = freeName('drives', 'Motor', model);
    edit(`Add ${name}`, (m) => void m.drives.push({ name, joint: joint.name, prescribes: 'speed', value: PACE[freedom] }));
    select({ family: 'drives', name });
  };
  return (
    <button onClick={add} className={className} title={`Drives ${joint.name} at ${PACE[freedom]}; the Card changes it`}>
      Motor
    </button>
  );
}
