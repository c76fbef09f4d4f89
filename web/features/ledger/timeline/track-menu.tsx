import { type Timeline, addSegment, levels, mirrored, reversed } from '@vim-pivot/core/timeline';
import { type Model, compatible, readUnit } from '@vim-pivot/core/page';
import { select } from '@/state/document/document';
import { Menu, MenuItem, MenuLabel, MenuRule } from '@/ui/menu';
import { type Track, dimOf, writeLine } from './track';

/** What can be done with a whole timeline, here or into another drive. */
export function TrackMenu({ track, model, until }: { track: Track; model: Model; until: number }) {
  const { line, name } = track,
    e = model.drives.find((d) => d.name === name)!,
    dim = dimOf(model, e);
  const others = model.drives.filter((d) => {
    const own = d.name !== name && dimOf(model, d);
    return own && dim && compatible(own, dim);
  });
  const put = (target: string, l: Timeline, label: string) => {
    writeLine(target, l, label);
    select({ family: 'drives', name: target });
  };
  const half = dim ? (readUnit(track.unit)?.factor ?? 1) * 90 : 1;
  const fresh = (): Timeline => addSegment({ unit: track.unit, dim: dim!, start: 0, segments: [] }, until, half);
  return (
    <Menu
      trigger={
        <button aria-label={`Menu of the timeline of ${name}`} className="rounded border border-line px-1.5 hover:border-ink-2">
          …
        </button>
      }
    >
      {!line && (
        <MenuItem disabled={!dim} onSelect={() => put(name, fresh(), `Timeline for ${name}`)} hint="takes the place of the formula">
          A timeline
        </MenuItem>
      )}
      {line && (
        <>
          <MenuItem
            onSelect={() => put(name, addSegment(line, until, -(levels(line).at(-1)! - line.start) || half), `Segment for ${name}`)}
          >
            Add a segment
          </MenuItem>
          <MenuItem onSelect={() => put(name, reversed(line, until), `Reverse ${name}`)}>Reverse in time</MenuItem>
          <MenuItem onSelect={() => put(name, mirrored(line), `Mirror ${name}`)}>Mirror: the other sign</MenuItem>
          {line.repeat === undefined ? (
            <MenuItem
              disabled={line.segments.length === 0}
              onSelect={() => put(name, { ...line, repeat: line.segments.at(-1)!.to + (line.segments[0]!.from || 0.1) }, `Repeat ${name}`)}
            >
              Repeat
            </MenuItem>
          ) : (
            <MenuItem onSelect={() => put(name, { ...line, repeat: undefined }, `Once, ${name}`)}>Once only</MenuItem>
          )}
          {others.length > 0 && <MenuRule />}
          {others.length > 0 && <MenuLabel>To another drive</MenuLabel>}
          {others.flatMap((o) => [
            <MenuItem key={`c ${o.name}`} onSelect={() => put(o.name, line, `Timeline of ${name} for ${o.name}`)}>
              Copy to {o.name}
            </MenuItem>,
            <MenuItem key={`m ${o.name}`} onSelect={() => put(o.name, mirrored(line), `Timeline of ${name}, mirrored, for ${o.name}`)}>
              Mirror to {o.name}
            </MenuItem>,
            <MenuItem
              key={`r ${o.name}`}
              onSelect={() => put(o.name, reversed(line, until), `Timeline of ${name}, reversed, for ${o.name}`)}
            >
              Reverse to {o.name}
            </MenuItem>,
          ])}
        </>
      )}
    </Menu>
  );
}
