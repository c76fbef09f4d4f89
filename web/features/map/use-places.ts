/** Where bodies stand on the Map: kept for each project as long as the page is open, moved by hand, or arranged anew. */
import { useReactFlow } from '@xyflow/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useDocument } from '@/state/document/document';
import { NODE, type Spot, arranged, layOut } from '@/state/map/layout';
import type { graphOf } from '@/state/map/mechanism-graph';

const places = new Map<string, Map<string, Spot>>();
const VIEW = { padding: 0.15, maxZoom: 1.1 };

export function usePlaces({ nodes, links }: ReturnType<typeof graphOf>) {
  const project = useDocument((s) => s.id) ?? '';
  /** How often the user arranged it anew or moved a body. */
  const [version, setVersion] = useState(0);
  const flow = useReactFlow();
  const fit = () => requestAnimationFrame(() => void flow.fitView(VIEW));
  const ids = () => nodes.map((b) => b.id);
  const pairs = () => links.map((l) => [l.a, l.b] as const);
  const spots = useMemo(() => {
    const made = layOut(ids(), pairs(), places.get(project) ?? new Map<string, Spot>());
    places.set(project, made);
    return made;
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [nodes, links, project, version]);

  const first = useRef(true);
  useEffect(() => {
    if (first.current && spots.size > 0) requestAnimationFrame(() => void flow.fitView(VIEW));
    first.current = false;
  }, [spots, flow]);

  /** @param corner of the body's card, as the graph view counts it */
  const move = (id: string, corner: Spot) => {
    places.get(project)?.set(id, { x: corner.x + NODE.width / 2, y: corner.y + NODE.height / 2 });
    setVersion((v) => v + 1);
  };
  const arrange = () => {
    places.set(project, arranged(ids(), pairs()));
    setVersion((v) => v + 1);
    fit();
  };
  return { spots, move, arrange };
}
