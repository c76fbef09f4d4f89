'use client';
import { ChevronDown, ChevronLeft, ChevronRight, ChevronUp } from 'lucide-react';
import { type RefObject, useState } from 'react';
import { Group, Panel, type PanelImperativeHandle, Separator, useDefaultLayout, usePanelRef } from 'react-resizable-panels';

/** A pane that folds. */
export interface Fold {
  handle: RefObject<PanelImperativeHandle | null>;
  folded: boolean;
  resized: (px: number) => void;
}
export function useFold(): Fold {
  const handle = usePanelRef();
  const [folded, setFolded] = useState(false);
  return { handle, folded, resized: (px) => setFolded(px < 1) };
}

/** Panes side by side, or one over the other: resized by what divides them, and remembered. */
export function Panes({ id, ids, down = false, children }: { id: string; ids: string[]; down?: boolean; children: React.ReactNode }) {
  const layout = useDefaultLayout({ id: `panes-${id}`, panelIds: ids, storage: localStorage });
  return (
    <Group orientation={down ? 'vertical' : 'horizontal'} className="min-h-0 min-w-0 flex-1" {...layout}>
      {children}
    </Group>
  );
}

interface PaneProps {
  id: string;
  /** CSS lengths, or px. The pane without a size takes what the others leave. */
  size?: string | number;
  min: string | number;
  fold?: Fold;
  onWidth?: (px: number) => void;
  className?: string;
  children: React.ReactNode;
}
export function Pane({ id, size, min, fold, onWidth, className = '', children }: PaneProps) {
  return (
    <Panel
      id={id}
      minSize={min}
      {...(size === undefined ? {} : { defaultSize: size, groupResizeBehavior: 'preserve-pixel-size' })}
      {...(fold ? { panelRef: fold.handle, collapsible: true, collapsedSize: 0 } : {})}
      onResize={({ inPixels }) => {
        fold?.resized(inPixels);
        onWidth?.(inPixels);
      }}
      className={className}
      style={{ overflow: 'hidden' }}
    >
      {children}
    </Panel>
  );
}

/**
 * What divides two panes. Dragged, or moved by arrow keys; Enter and a double click fold the pane it belongs to and open it again.
 * @param of the pane: the one after it, or `before` it
 */
export function Divider({ of, label, down = false, before = false }: { of: Fold; label: string; down?: boolean; before?: boolean }) {
  const { folded } = of;
  const fold = () => {
    const pane = of.handle.current;
    if (folded) pane?.expand();
    else pane?.collapse();
  };
  const enlarge = () => of.handle.current?.resize('100%');
  const [Toward, Away] = down ? [ChevronDown, ChevronUp] : before ? [ChevronLeft, ChevronRight] : [ChevronRight, ChevronLeft];
  return (
    <Separator
      aria-label={`Size of ${label}`}
      title={`Drag, or arrow keys. Double click or Enter: fold ${label} and open it again. End: as large as it goes`}
      disableDoubleClick
      onDoubleClick={fold}
      onKeyDown={(e) => {
        if (e.key !== 'Enter') return;
        e.preventDefault();
        fold();
      }}
      className={`relative z-20 [&:hover>span]:visible [&:focus-visible>span]:visible grid place-items-center bg-line outline-none transition-colors hover:bg-calm focus-visible:bg-accent data-[separator=active]:bg-accent ${down ? 'h-[3px]' : 'w-[3px]'}`}
    >
      {/* for the mouse; keys do the same from the divider itself */}
      <span
        aria-hidden="true"
        className={`absolute flex rounded border border-line bg-sheet text-ink-2 shadow-sm ${folded ? '' : 'invisible'} ${down ? '-top-5 flex-row' : 'top-16 flex-col'} ${down ? '' : before ? 'left-0' : 'right-0'}`}
      >
        <span
          data-fold={label}
          className="grid h-5 w-5 cursor-pointer place-items-center hover:text-accent"
          title={folded ? `Open ${label}` : `Fold ${label}`}
          onClick={fold}
        >
          {folded ? <Away size={13} /> : <Toward size={13} />}
        </span>
        <span
          data-enlarge={label}
          className="grid h-5 w-5 cursor-pointer place-items-center hover:text-accent"
          title={`Make ${label} large`}
          onClick={enlarge}
        >
          <Away size={13} strokeWidth={3} />
        </span>
      </span>
    </Separator>
  );
}
