'use client';
import '@xyflow/react/dist/style.css';
import {
  Background,
  BaseEdge,
  Controls,
  type Edge,
  EdgeLabelRenderer,
  type EdgeProps,
  Handle,
  type Node,
  type NodeProps,
  Position,
  ReactFlow,
  ReactFlowProvider,
  getStraightPath,
  useReactFlow,
} from '@xyflow/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { pickAlso, select, useDocument } from '@/state/document/document';
import { useTheme } from '@/state/theme';
import { Segmented } from '@/ui/segmented';
import { MapList } from './map-list';
import { NODE, type Spot, arranged, layOut } from '@/state/map/layout';
import { type GraphNode, graphOf } from '@/state/map/mechanism-graph';

type BodyNode = Node<{ node: GraphNode; picked: boolean; found: boolean; fold: () => void }, 'body'>;
type JointEdge = Edge<{ label: string; drives: string[]; picked: boolean; lit: boolean; dim: boolean; bend: number }, 'joint'>;

/** The mechanism as a graph: bodies as nodes, joints as edges, drives and loads as badges. */
export function MechanismMap() {
  return (
    <ReactFlowProvider>
      <Graph />
    </ReactFlowProvider>
  );
}

const NODE_TYPES = { body: Body };
const EDGE_TYPES = { joint: Joint };
const places = new Map<string, Map<string, Spot>>();

function Graph() {
  const model = useDocument((s) => s.model);
  const project = useDocument((s) => s.id);
  const picked = useDocument((s) => s.picked);
  const loops = useDocument((s) => s.mobility?.loops);
  const dark = useTheme((s) => s.dark);
  const [hovered, setHovered] = useState<string>();
  const [search, setSearch] = useState('');
  const [version, setVersion] = useState(0);
  const [listed, setListed] = useState(false);
  const flow = useReactFlow();
  const first = useRef(true);

  const brought = useDocument((s) => s.brought.bodies),
    within = useDocument((s) => s.within);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const { nodes: bodies, links } = useMemo(
    () => (model ? graphOf(model, brought ?? [], within, unfolded) : { nodes: [], links: [] }),
    [model, brought, within, unfolded],
  );
  const spots = useMemo(() => {
    const known = places.get(project ?? '') ?? new Map<string, Spot>();
    const made = layOut(
      bodies.map((b) => b.id),
      links.map((l) => [l.a, l.b] as const),
      known,
    );
    places.set(project ?? '', made);
    return made;
    // `version` counts the times the user asked to arrange it anew or moved a node
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [bodies, links, project, version]);

  useEffect(() => {
    if (first.current && spots.size > 0) requestAnimationFrame(() => void flow.fitView({ padding: 0.15, maxZoom: 1.1 }));
    first.current = false;
  }, [spots, flow]);

  if (!model) return null;
  const lit = hovered ? (loops ?? []).filter((l) => l.joints.includes(hovered)) : [];
  const inLoop = new Set(lit.flatMap((l) => l.joints));
  const isPicked = (family: string, name: string) => picked.some((p) => p.family === family && p.name === name);
  const low = search.trim().toLowerCase();

  const fold = (instance: string) =>
    setUnfolded((now) => {
      const next = new Set(now);
      if (!next.delete(instance)) next.add(instance);
      return next;
    });
  const nodes: BodyNode[] = bodies.map((node) => ({
    id: node.id,
    type: 'body',
    position: { x: spots.get(node.id)!.x - NODE.width / 2, y: spots.get(node.id)!.y - NODE.height / 2 },
    width: NODE.width,
    height: NODE.height,
    data: {
      node,
      fold: () => fold(node.of ?? node.name),
      picked: node.of === undefined ? isPicked(node.folded ? 'instances' : 'bodies', node.name) : isPicked('instances', node.of),
      found: low !== '' && node.name.toLowerCase().includes(low),
    },
  }));
  const edges: JointEdge[] = links.map((l) => ({
    id: l.id,
    source: l.a,
    target: l.b,
    sourceHandle: 'start',
    targetHandle: 'stop',
    type: 'joint',
    data: {
      label: l.joints.length > 1 ? `${l.joints.length} joints` : l.id,
      drives: l.drives,
      picked: isPicked('joints', l.id),
      lit: inLoop.has(l.id) || (low !== '' && l.joints.some((j) => j.toLowerCase().includes(low))),
      dim: l.off || (inLoop.size > 0 && !l.joints.some((j) => inLoop.has(j))),
      bend: l.bend,
    },
  }));

  if (listed) return <MapList onGraph={() => setListed(false)} />;
  return (
    <div className="relative h-full w-full bg-stage" aria-label="Map" role="group">
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        edgeTypes={EDGE_TYPES}
        minZoom={0.1}
        deleteKeyCode={null}
        onNodeClick={(e, n) =>
          (e.shiftKey || e.ctrlKey || e.metaKey ? pickAlso : select)({
            family: n.data.node.folded ? 'instances' : 'bodies',
            name: n.data.node.name,
          })
        }
        onNodeDoubleClick={(_e, n) => (n.data.node.folded || n.data.node.of !== undefined) && n.data.fold()}
        onEdgeClick={(e, d) => (e.shiftKey || e.ctrlKey || e.metaKey ? pickAlso : select)({ family: 'joints', name: d.id })}
        onPaneClick={() => select(undefined)}
        onEdgeMouseEnter={(_e, d) => setHovered(d.id)}
        onEdgeMouseLeave={() => setHovered(undefined)}
        onNodeDragStop={(_e, n) => {
          places.get(project ?? '')?.set(n.id, { x: n.position.x + NODE.width / 2, y: n.position.y + NODE.height / 2 });
          setVersion((v) => v + 1);
        }}
        onNodesChange={(changes) => {
          for (const c of changes)
            if (c.type === 'position' && c.position && c.dragging)
              places.get(project ?? '')?.set(c.id, { x: c.position.x + NODE.width / 2, y: c.position.y + NODE.height / 2 });
          if (changes.some((c) => c.type === 'position' && c.dragging)) setVersion((v) => v + 1);
        }}
        onConnect={({ source, target }) => {
          // an edge drawn between two bodies picks them; the Card then offers the joints that fit
          const named = (id: string) => bodies.find((b) => b.id === id)!;
          for (const [pick, id] of [
            [select, source],
            [pickAlso, target],
          ] as const)
            pick({ family: named(id).folded ? 'instances' : 'bodies', name: named(id).name });
        }}
        colorMode={dark ? 'dark' : 'light'}
        proOptions={{ hideAttribution: true }}
      >
        <Background color="var(--color-line)" gap={24} />
        <Controls showInteractive={false} position="bottom-left" />
      </ReactFlow>
      <div className="absolute bottom-3 right-3 flex items-center gap-2">
        <Segmented
          label="Map as"
          value="graph"
          options={[
            ['graph', 'Graph'],
            ['list', 'List'],
          ]}
          onChange={(v) => setListed(v === 'list')}
        />
        <input
          aria-label="Search the Map"
          placeholder="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          className="w-32 rounded-md border border-line bg-sheet px-2 py-1"
        />
        <button
          className="rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:text-accent"
          title="Lay the whole Map out anew"
          onClick={() => {
            places.set(
              project ?? '',
              arranged(
                bodies.map((b) => b.id),
                links.map((l) => [l.a, l.b] as const),
              ),
            );
            setVersion((v) => v + 1);
            requestAnimationFrame(() => void flow.fitView({ padding: 0.15, maxZoom: 1.1 }));
          }}
        >
          Arrange
        </button>
      </div>
      {lit.length > 0 && (
        <div
          className="pointer-events-none absolute bottom-4 left-1/2 -translate-x-1/2 rounded-md bg-ink px-3 py-1.5 text-paper"
          role="status"
        >
          {lit.map((l) => (
            <p key={l.joints.join()}>
              Loop of {l.joints.length} joints: mobility {l.rank} by rank, {l.counted} by counting
            </p>
          ))}
        </div>
      )}
    </div>
  );
}

function Body({ data: { node, picked, found, fold } }: NodeProps<BodyNode>) {
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

function Joint({ id, sourceX, sourceY, targetX, targetY, data }: EdgeProps<JointEdge>) {
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
