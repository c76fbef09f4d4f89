import {
  type Segment,
  type SegmentShape,
  SEGMENT_SHAPES,
  type Timeline,
  dropSegment,
  levels,
  moveSegment,
  setLevel,
} from '@vim-pivot/core/timeline';
import { D, type Dimension, compatible, formatQuantity, readUnit } from '@vim-pivot/core/page';
import { Segmented } from '@/ui/segmented';

/** A number with its unit, or a plain number in the unit shown. */
function quantityOf(text: string, dim: Dimension, unit: string): number | undefined {
  const found = /^\s*([-−+]?[\d.,]+(?:e[-+]?\d+)?)\s*(\S*)\s*$/i.exec(text),
    u = found && readUnit(found[2] || unit);
  const value = found ? Number(found[1]!.replace('−', '-').replace(',', '.')) : NaN;
  return u && Number.isFinite(value) && compatible(u.dim, dim) ? value * u.factor : undefined;
}

function Field({ label, text, onText }: { label: string; text: string; onText: (t: string) => void }) {
  return (
    <label className="contents">
      <span className="text-ink-2">{label}</span>
      <input
        key={text}
        aria-label={label}
        defaultValue={text}
        onBlur={(e) => e.target.value !== text && onText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur();
          e.stopPropagation();
        }}
        className="w-full rounded border border-line bg-sheet px-1.5 py-0.5 font-mono text-xs"
      />
    </label>
  );
}

const SHAPES = Object.keys(SEGMENT_SHAPES).map((s) => [s, s === 'cubic S-curve' ? 'cubic' : s] as const);

/** One segment of a timeline by its numbers. */
export function SegmentFields({
  line,
  segment: k,
  name,
  onLine,
  onGone,
}: {
  line: Timeline;
  segment: number;
  name: string;
  onLine: (l: Timeline, label: string) => void;
  onGone: () => void;
}) {
  const s = line.segments[k]!,
    after = levels(line)[k + 1]!,
    unit = line.unit;
  const label = `Segment ${k + 1} of ${name}`;
  const time = (what: 'from' | 'to') => (text: string) => {
    const t = quantityOf(text, D.time, 's');
    if (t !== undefined) onLine(moveSegment(line, k, what, t), label);
  };
  const shaped = (shape: SegmentShape): Timeline => ({
    ...line,
    segments: line.segments.map((x, i): Segment => (i === k ? { ...x, shape } : x)),
  });
  return (
    <aside
      aria-label={label}
      className="grid w-[250px] shrink-0 content-start grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1 overflow-auto border-l border-line p-2.5"
    >
      <h3 className="col-span-2 truncate font-semibold">{label}</h3>
      <Field label="From" text={`${Number(s.from.toPrecision(8))} s`} onText={time('from')} />
      <Field label="To" text={`${Number(s.to.toPrecision(8))} s`} onText={time('to')} />
      <Field
        label="Holds then"
        text={formatQuantity(after, line.dim, unit, 8)}
        onText={(text) => {
          const v = quantityOf(text, line.dim, unit);
          if (v !== undefined) onLine(setLevel(line, k + 1, v), label);
        }}
      />
      {line.repeat !== undefined && (
        <Field
          label="Repeats after"
          text={`${Number(line.repeat.toPrecision(8))} s`}
          onText={(text) => {
            const t = quantityOf(text, D.time, 's');
            if (t !== undefined && t >= (line.segments.at(-1)?.to ?? 0)) onLine({ ...line, repeat: t }, label);
          }}
        />
      )}
      <span className="col-span-2 text-xs [&_button]:px-2">
        <Segmented
          label="Shape of the segment"
          value={s.shape}
          options={SHAPES}
          onChange={(v) => onLine(shaped(v as SegmentShape), label)}
        />
      </span>
      <button
        onClick={() => {
          onLine(dropSegment(line, k), `Delete segment ${k + 1} of ${name}`);
          onGone();
        }}
        className="col-span-2 mt-1 justify-self-start rounded-md border border-line px-2 py-0.5 hover:border-accent hover:text-accent"
      >
        Delete the segment
      </button>
    </aside>
  );
}
