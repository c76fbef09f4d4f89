'use client';
import { DropdownMenu } from 'radix-ui';
import { familyOf } from '@vim-pivot/core/page';
import { type Selected, select, useDocument } from '@/state/document/document';
import { openCopies, openKits } from '@/state/asking';
import { addOffer } from '@/state/adding/add-offer';
import { removeElement, toggleOff } from '@/state/document/elements';
import { offersFor } from '@/state/adding/offers';
import { useDisplayed } from '@/state/scene/displayed';
import { isolate, look, showAll, toggleClear, toggleHidden, useView } from '@/state/scene/view';
import { MenuItem, MenuLabel, MenuRule } from '@/ui/menu-parts';

/** What can be done with what was clicked with the right button. */
export function SceneMenu({ x, y, on, onClose }: { x: number; y: number; on: Selected | undefined; onClose: () => void }) {
  const model = useDocument((s) => s.model);
  const seen = useView();
  const off = on && model?.[on.family].find((e) => e.name === on.name)?.off;
  const offers = model && on ? offersFor(model, [on]).slice(0, 6) : [];
  return (
    <DropdownMenu.Root open onOpenChange={(o) => !o && onClose()} modal={false}>
      <DropdownMenu.Trigger asChild>
        <span aria-hidden="true" className="absolute h-0 w-0" style={{ left: x, top: y }} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={2}
          aria-label={on ? `${on.name}` : 'Scene'}
          className="z-50 min-w-48 rounded-lg border border-line bg-sheet p-1 text-sm text-ink shadow-lg"
        >
          {on && (
            <MenuLabel>
              {on.name}, {familyOf(on.family).one}
            </MenuLabel>
          )}
          {on?.family === 'bodies' && (
            <>
              <MenuItem onSelect={() => toggleHidden(on.name)}>Hide</MenuItem>
              <MenuItem onSelect={() => isolate([on.name])}>Show it alone</MenuItem>
              <MenuItem onSelect={() => toggleClear(on.name)}>{seen.clear.includes(on.name) ? 'Draw solid' : 'See through'}</MenuItem>
              <MenuItem onSelect={() => useDisplayed.setState({ handles: 'move' })}>Move with handles</MenuItem>
              <MenuItem onSelect={() => useDisplayed.setState({ handles: 'turn' })}>Turn with handles</MenuItem>
              <MenuRule />
            </>
          )}
          {on && on.family !== 'shapes' && <MenuItem onSelect={() => openCopies(true)}>Copies, mirror…</MenuItem>}
          {(on?.family === 'bodies' || on?.family === 'instances') && <MenuItem onSelect={() => openKits('make')}>Make a kit…</MenuItem>}
          {on?.family === 'shapes' && <MenuItem onSelect={() => toggleHidden('')}>Hide {model?.ground}</MenuItem>}
          {offers.map((o) => (
            <MenuItem key={`${o.kind.family}/${o.kind.kind}`} onSelect={() => addOffer(o)}>
              Add {o.kind.label.toLowerCase()}
            </MenuItem>
          ))}
          {on && (
            <>
              {offers.length > 0 && <MenuRule />}
              <MenuItem onSelect={() => toggleOff(on.family, on.name)}>{off ? 'Switch on' : 'Switch off'}</MenuItem>
              <MenuItem danger onSelect={() => removeElement(on.family, on.name)}>
                Delete
              </MenuItem>
            </>
          )}
          {!on && (
            <>
              <MenuItem disabled={seen.hidden.length + seen.clear.length === 0} onSelect={showAll}>
                Show all bodies
              </MenuItem>
              <MenuItem onSelect={() => look({ style: seen.style === 'solid' ? 'skeleton' : 'solid' })}>
                Draw as {seen.style === 'solid' ? 'skeleton' : 'solid'}
              </MenuItem>
              <MenuItem onSelect={() => select(undefined)}>Pick nothing</MenuItem>
            </>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
