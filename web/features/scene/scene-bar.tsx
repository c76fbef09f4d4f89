import { sketch } from '@/state/asking';
import { look, useView } from '@/state/scene/view';
import { Segmented } from '@/ui/segmented';
import type { View } from './stage';

/** Above the scene: how the machine is drawn, from where, and what of it. */
export function SceneBar({
  compact,
  sketching,
  view,
  panelOpen,
  onView,
  onFit,
  onPanel,
}: {
  compact: boolean;
  sketching: boolean;
  view: View | '';
  panelOpen: boolean;
  onView: (v: View) => void;
  onFit: (motion: boolean) => void;
  onPanel: () => void;
}) {
  const seen = useView();
  const drawAs = (v: string) => {
    sketch(v === 'sketch');
    if (v !== 'sketch') look({ style: v as 'solid' });
  };
  return (
    <div className="absolute right-3 top-3 flex gap-2">
      {!compact && (
        <Segmented
          label="Drawn as"
          value={sketching ? 'sketch' : seen.style}
          options={[
            ['solid', 'Solid'],
            ['skeleton', 'Skeleton'],
            ['sketch', 'Sketch'],
          ]}
          onChange={drawAs}
        />
      )}
      <button
        className="rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:text-accent"
        onClick={(e) => onFit(e.shiftKey)}
        title="Show the whole machine (F); with Shift: all it reaches in the run"
      >
        Fit
      </button>
      {!compact && (
        <>
          <Segmented
            label="Standard view"
            value={view}
            options={[
              ['iso', 'Iso'],
              ['front', 'Front'],
              ['top', 'Top'],
              ['side', 'Side'],
            ]}
            onChange={(v) => onView(v as View)}
          />
          <button
            aria-expanded={panelOpen}
            onClick={onPanel}
            className={`rounded-md border border-line px-2.5 py-1 font-medium hover:text-accent ${panelOpen || seen.cut || seen.hidden.length > 0 ? 'bg-calm-soft text-calm' : 'bg-sheet'}`}
            title="Up axis, lens, section, names, what is hidden"
          >
            View
          </button>
        </>
      )}
    </div>
  );
}
