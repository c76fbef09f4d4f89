/** How bodies and joints are drawn on the Map. */
import {
  BaseEdge,
  type Edge,
  EdgeLabelRenderer,
  type EdgeProps,
  Handle,
  type Node,
  type NodeProps,
  Position,
  getStraightPath,
} from '@xyflow/react';
import type { GraphNode } from '@/state/map/mechanism-graph';

export type BodyNode = Node<{ node: GraphNode; picked: boolean; found: boolean; fold: () => void }, 'body'>;
export type JointEdge = Edge<{ label: string; drives: string[]; picked: boolean; lit: boolean; dim: boolean; bend: number }, 'joint'>;

export function Body({ data: { node, picked, found, fold } }: NodeProps<BodyNode>) {
  const brought = node.folded !== undefined || node.of !== undefined;
  return (
    <div
      className={`relative grid h-full w-full place-items-center rounded-md border-2 px-2 text-center text-sm font-medium ${picked ? 'border-accent bg-accent-soft' : found ? 'border-calm bg-calm-soft' : 'border-ink-2 bg-sheet'} ${node.off ? 'opacity-45' : ''} ${node.folded === undefined ? '' : 'shadow-[3px_3px_0_var(--color-sheet),4px_4px_0_1px_var(--color-ink-2)]'} ${node.of === undefined ? '' : 'border-dashed'}`}
      style={
        node.ground
          ? {
              backgroundImage:
                'repeating-linear-gradient(135deg, transparent 0 6px, color-mix(in srgb, var(--color-ink-2) 18%, transparent) 6px 7px)',
            }
          : undefined
      }
      title={
        node.ground
          ? 'The fixed body'
          : node.folded !== undefined
            ? `${node.folded} bodies that ${node.name} brings. Double click shows them`
            : node.of === undefined
              ? undefined
              : `Brought by ${node.of}. Double click folds it`
      }
    >
      <Handle
        id="end"
        type="target"
        position={Position.Left}
        isConnectable
        className="inset-0! h-full! w-full! transform-none! rounded-none! border-0! bg-transparent!"
      />
      <Handle id="start" type="source" position={Position.Left} isConnectable={false} className="left-1/2! border-0! bg-transparent!" />
      <Handle id="stop" type="target" position={Position.Left} isConnectable={false} className="left-1/2! border-0! bg-transparent!" />
      <span className="pointer-events-none max-w-full truncate">{node.name}</span>
      {brought && (
        <button
          aria-label={node.folded === undefined ? `Fold ${node.of}` : `Unfold ${node.name}`}
          className="nodrag absolute -bottom-3 left-1/2 -translate-x-1/2 whitespace-nowrap rounded-full border border-line bg-sheet px-1.5 text-xs font-normal text-ink-2 hover:text-accent"
          onClick={(e) => {
            e.stopPropagation();
            fold();
          }}
        >
          {node.folded === undefined ? 'fold' : node.folded === 1 ? '1 body' : `${node.folded} bodies`}
        </button>
      )}
      <Handle id="draw" type="source" position={Position.Right} className="h-2.5! w-2.5! border-ink-2! bg-sheet!" />
      {node.loads.length > 0 && (
        <span
          className="absolute -right-2 -top-2 rounded-full border border-calm bg-calm-soft px-1.5 font-mono text-[10px] text-calm"
          title={`Loads: ${node.loads.join(', ')}`}
        >
          {node.loads.length}
        </span>
      )}
    </div>
  );
}

export function Joint({ id, sourceX, sourceY, targetX, targetY, data }: EdgeProps<JointEdge>) {
  const shift = (data?.bend ?? 0) * 26;
  const [path, x, y] = getStraightPath({ sourceX, sourceY: sourceY + shift, targetX, targetY: targetY + shift });
  const colour = data?.picked ? 'var(--color-accent)' : data?.lit ? 'var(--color-calm)' : 'var(--color-ink-2)';
  return (
    <>
      <BaseEdge
        id={id}
        path={path}
        style={{ stroke: colour, strokeWidth: data?.picked || data?.lit ? 2.5 : 1.4, opacity: data?.dim ? 0.35 : 1 }}
        interactionWidth={18}
      />
      <EdgeLabelRenderer>
        <span
          className="pointer-events-none absolute rounded bg-sheet px-1 text-xs"
          style={{ transform: `translate(-50%, -50%) translate(${x}px, ${y}px)`, color: colour, opacity: data?.dim ? 0.45 : 1 }}
        >
          {data?.label}{' '}
          {data && data.drives.length > 0 && (
            <b className="text-accent" title={`Driven by ${data.drives.join(', ')}`}>
              ↻
            </b>
          )}
        </span>
      </EdgeLabelRenderer>
    </>
  );
}
