'use client';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { useHelp } from '@/state/asking';
import { useDocument } from '@/state/document/document';
import { Divider, Pane, Panes, useFold } from '@/ui/panes';
import { Segmented } from '@/ui/segmented';
import { Checks } from '../checks/checks';
import { Ledger } from '../ledger/ledger';
import { RunBar } from '../runs/run-bar';
import { Mobility } from './mobility';
import { Side, sideWidth } from './side';

const Scene = dynamic(() => import('../scene/scene').then((m) => m.Scene), { ssr: false });
const EmptyScene = dynamic(() => import('./empty-scene').then((m) => m.EmptyScene), { ssr: false });
const Walk = dynamic(() => import('./walk').then((m) => m.Walk), { ssr: false });
const MechanismMap = dynamic(() => import('../map/map').then((m) => m.MechanismMap), { ssr: false });

/** Scene and Card above, run bar between, Ledger below. */
export function BuildStage({ map, onMap }: { map: boolean; onMap: (on: boolean) => void }) {
  const empty = useDocument((s) => !!s.model && s.model.bodies.length + s.model.points.length === 0);
  const walking = useHelp((s) => s.walking);
  const side = useFold(),
    ledger = useFold();
  const [width, setWidth] = useState(0);
  return (
    <>
      <Panes id="build" ids={['machine', 'ledger']} down>
        <Pane id="machine" min="120px" className="flex flex-col">
          <Panes id="machine" ids={['scene', 'side']}>
            <Pane id="scene" min="280px" className="@container relative h-full">
              {map ? <MechanismMap /> : <Scene />}
              {!map && empty && <EmptyScene />}
              {walking && <Walk />}
              <Mobility>
                <Segmented
                  label="View of the machine"
                  value={map ? 'map' : 'scene'}
                  options={[
                    ['scene', 'Scene'],
                    ['map', 'Map'],
                  ]}
                  onChange={(v) => onMap(v === 'map')}
                />
              </Mobility>
            </Pane>
            <Divider of={side} label="the Card" />
            <Pane id="side" size={sideWidth()} min="240px" fold={side} onWidth={setWidth} className="h-full bg-sheet">
              <Side width={width} />
            </Pane>
          </Panes>
          <RunBar />
        </Pane>
        <Divider of={ledger} label="the Ledger" down />
        <Pane id="ledger" size="27.5vh" min="110px" fold={ledger} className="h-full">
          <Ledger />
        </Pane>
      </Panes>
      <Checks />
    </>
  );
}
