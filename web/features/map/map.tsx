'use client';
import '@xyflow/react/dist/style.css';
import { Background, Controls, ReactFlow, ReactFlowProvider } from '@xyflow/react';
import { useMemo, useState } from 'react';
import { pickAlso, select, useDocument } from '@/state/document/document';
import { NODE } from '@/state/map/layout';
import { graphOf } from '@/state/map/mechanism-graph';
import { useTheme } from '@/state/theme';
import { MapList } from './map-list';
import { MapChoice, MapSearch } from './map-search';
import { Body, type BodyNode, Joint, type JointEdge } from './parts';
import { usePlaces } from './use-places';

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

/** The graph of the model, instances folded unless they were opened. */
function useGraph() {
  const model = useDocument((s) => s.model);
  const brought = useDocument((s) => s.brought.bodies),
    within = useDocument((s) => s.within);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const graph = useMemo(
    () => (model ? graphOf(model, brought ?? [], within, unfolded) : { nodes: [], links: [] }),
    [model, brought, within, unfolded],
  );
  const fold = (instance: string) =>
    setUnfolded((now) => {
      const next = new Set(now);
      if (!next.delete(instance)) next.add(instance);
      return next;
    });
  return { graph, fold };
}

const also = (e: React.MouseEvent) => (e.shiftKey || e.ctrlKey || e.metaKey ? pickAlso : select);

function Graph() {
  const known = useDocument((s) => !!s.model);
  const picked = useDocument((s) => s.picked);
  const loops = useDocument((s) => s.mobility?.loops);
  const dark = useTheme((s) => s.dark);
  const [hovered, setHovered] = useState<string>();
  const [search, setSearch] = useState('');
  const [listed, setListed] = useState(false);
  const { graph, fold } = useGraph();
  const { spots, move, arrange } = usePlaces(graph);
  if (!known) return null;
  if (listed) return <MapList onGraph={() => setListed(false)} />;

  const lit = hovered ? (loops ?? []).filter((l) => l.joints.includes(hovered)) : [];
  const inLoop = new Set(lit.flatMap((l) => l.joints));
  const isPicked = (family: string, name: string) => picked.some((p) => p.family === family && p.name === name);
  const low = search.trim().toLowerCase();
  const isFound = (name: string) => low !== '' && name.toLowerCase().includes(low);

  const nodes: BodyNode[] = graph.nodes.map((node) => ({
    id: node.id,
    type: 'body',
    position: { x: spots.get(node.id)!.x - NODE.width / 2, y: spots.get(node.id)!.y - NODE.height / 2 },
    width: NODE.width,
    height: NODE.height,
    data: {
      node,
      fold: () => fold(node.of ?? node.name),
      picked: node.of === undefined ? isPicked(node.folded ? 'instances' : 'bodies', node.name) : isPicked('instances', node.of),
      found: isFound(node.name),
    },
  }));
  const edges: JointEdge[] = graph.links.map((l) => ({
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
      lit: inLoop.has(l.id) || l.joints.some(isFound),
      dim: l.off || (inLoop.size > 0 && !l.joints.some((j) => inLoop.has(j))),
      bend: l.bend,
    },
  }));
  const pickable = (id: string) => {
    const node = graph.nodes.find((b) => b.id === id)!;
    return { family: node.folded ? ('instances' as const) : ('bodies' as const), name: node.name };
  };

  return (
    <div className="relative h-full w-full bg-stage" aria-label="Map" role="group">
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        edgeTypes={EDGE_TYPES}
        minZoom={0.1}
        deleteKeyCode={null}
        onNodeClick={(e, n) => also(e)(pickable(n.id))}
        onNodeDoubleClick={(_e, n) => (n.data.node.folded || n.data.node.of !== undefined) && n.data.fold()}
        onEdgeClick={(e, d) => also(e)({ family: 'joints', name: d.id })}
        onPaneClick={() => select(undefined)}
        onEdgeMouseEnter={(_e, d) => setHovered(d.id)}
        onEdgeMouseLeave={() => setHovered(undefined)}
        onNodeDragStop={(_e, n) => move(n.id, n.position)}
        onNodesChange={(changes) => {
          for (const c of changes) if (c.type === 'position' && c.position && c.dragging) move(c.id, c.position);
        }}
        onConnect={({ source, target }) => {
          // an edge drawn between two bodies picks them; the Card then offers the joints that fit
          select(pickable(source));
          pickAlso(pickable(target));
        }}
        colorMode={dark ? 'dark' : 'light'}
        proOptions={{ hideAttribution: true }}
      >
        <Background color="var(--color-line)" gap={24} />
        <Controls showInteractive={false} position="bottom-left" />
      </ReactFlow>
      <Tools search={search} onSearch={setSearch} onList={() => setListed(true)} onArrange={arrange} />
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

function Tools({
  search,
  onSearch,
  onList,
  onArrange,
}: {
  search: string;
  onSearch: (s: string) => void;
  onList: () => void;
  onArrange: () => void;
}) {
  return (
    <div className="absolute bottom-3 right-3 flex items-center gap-2">
      <MapChoice as="graph" onChange={onList} />
      <MapSearch words="Search" value={search} onChange={onSearch} width="w-32" />
      <button
        className="rounded-md border border-line bg-sheet px-2.5 py-1 font-medium hover:text-accent"
        title="Lay the whole Map out anew"
        onClick={onArrange}
      >
        Arrange
      </button>
    </div>
  );
}
