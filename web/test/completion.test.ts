/** What can stand at the caret of a formula. */
import { describe, expect, it } from 'vitest';
import { type Model, complete as whole } from '@vim-pivot/core';
import { complete, taken } from '../state/adding/completion';
import type { Word } from '../workers/protocol';

const model = whole({
  name: 'Gate',
  parameters: [
    { name: 'arm', value: '60 mm' },
    { name: 'forearm', value: '2*arm' },
    { name: 'idle', value: 1, off: true },
  ],
  tables: [
    {
      name: 'spin_up',
      from: 's',
      to: 'rpm',
      data: [
        [0, 0],
        [1, 1],
      ],
    },
  ],
  gauges: [
    { name: 'Crank torque', kind: 'drive', drive: 'Motor' },
    { name: 'Crank angle', kind: 'joint', joint: 'Pin' },
  ],
} as object) as Model;
const words: Word[] = [
  { type: 'function', name: 'sin', args: ['x'], help: 'sine' },
  { type: 'function', name: 'smoothstep', args: ['lo', 'hi', 'x'], help: 'eases in' },
  { type: 'constant', name: 'pi', args: [], help: 'half a turn' },
  { type: 'unit', name: 'mm', args: [], help: 'millimetre' },
  { type: 'unit', name: 'm', args: [], help: 'metre' },
  { type: 'unit', name: 's', args: [], help: 'second' },
];
/** The text with the caret at the bar. */
const at = (text: string, may: { gauges?: boolean; time?: boolean } = {}, own?: string) => {
  const caret = text.indexOf('|');
  return complete(text.replace('|', ''), caret, model, words, { gauges: !!may.gauges, time: !!may.time }, own);
};
const offered = (...given: Parameters<typeof at>) => at(...given)?.list.map((s) => s.text) ?? [];

describe('completion', () => {
  it('of a name: what begins so comes first, then what holds it; not itself, not what is off', () => {
    expect(offered('2 * ar|')).toEqual(['arm', 'forearm']);
    expect(offered('ar|', {}, 'arm')).toEqual(['forearm']);
    expect(offered('id|')).toEqual([]);
    expect(offered('arm|')).toEqual(['forearm']); // what stands there is no suggestion
  });
  it('after a number: units, and nothing else', () => {
    expect(offered('60 m|')).toEqual(['mm']);
    expect(offered('3.5s|')).toEqual([]); // the whole of a unit stands there
    expect(offered('60 a|')).toEqual([]);
    expect(offered('60 mm + s|')).toEqual(
      ['sin()', 'spin_up()', 'smoothstep()'].sort((a, b) => offered('60 mm + s|').indexOf(a) - offered('60 mm + s|').indexOf(b)),
    );
  });
  it('a digit in a name is no number', () => expect(offered('arm2 * pi2 + s|')).toContain('sin()'));
  it('functions and tables come with their brackets, the caret between them', () => {
    const c = at('2*smo|')!;
    expect(taken('2*smo', c, c.list[0]!)).toEqual({ text: '2*smoothstep()', caret: '2*smoothstep('.length });
    const t = at('spin|')!;
    expect(taken('spin', t, t.list[0]!)).toEqual({ text: 'spin_up()', caret: 'spin_up('.length });
  });
  it('gauges stand in braces, where they may stand at all; a closing brace that is there is used', () => {
    expect(offered('2 * {to|', { gauges: true })).toEqual(['{Crank torque}']);
    expect(offered('2 * {to|')).toEqual([]);
    const c = at('{ang|} + 1', { gauges: true })!;
    expect(taken('{ang} + 1', c, c.list[0]!)).toEqual({ text: '{Crank angle} + 1', caret: '{Crank angle}'.length });
    expect(offered('{|', { gauges: true })).toEqual(['{Crank torque}', '{Crank angle}']);
  });
  it('time only where it may stand', () => {
    expect(offered('2 + t|', { time: true })).not.toContain('t'); // it stands there already
    expect(offered('|', { time: true })).toEqual([]);
  });
  it('in the middle of a text it replaces what is before the caret alone', () => {
    const c = at('fo| + 2')!;
    expect(taken('fo + 2', c, c.list[0]!)).toEqual({ text: 'forearm + 2', caret: 7 });
  });
});
