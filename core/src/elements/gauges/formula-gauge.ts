import { refuse } from '../../diagnosis';
import { choice, quantity, text } from '../../model/fields';
import { D, divide, multiply } from '../../quantity/dimension';
import { derivative, integral, lowPass, movingMean, movingRms } from '../../formula/course';
import { gauge } from './gauge';

const WINDOWED = ['mean', 'rms', 'low-pass'] as const;

export const formulaGauge = gauge({
  kind: 'formula',
  label: 'Formula of gauges',
  help: 'A formula of other gauges, written `{Crank torque} * {Crank speed}`, of parameters and of time; and what becomes of it over the run.',
  worksOut: { formula: 'value', where: { field: 'then', is: 'as' } },
  fields: {
    value: text('Formula', 'Gauges stand in braces.', { formula: true, default: '0' }),
    then: choice(
      { as: 'as it is', derivative: 'derivative', integral: 'integral', mean: 'moving mean', rms: 'moving RMS', 'low-pass': 'low-pass' },
      'Then apply',
      'What is made of its course over time.',
    ),
    window: quantity(D.time, 'Window', 'Length of the window; of a low-pass, one over 2π times its corner frequency.', {
      default: '20 ms',
      range: 'positive',
      when: { field: 'then', is: WINDOWED },
    }),
  },
  channel(v, m, name) {
    const program = m.compiled(v.value, name);
    const inputs = program.inputs.map((input) => ({ input, channel: m.channelOf(input.gauge, name) }));
    // what is derived over time has no value at an instant alone
    const series = inputs.find((x) => x.channel.after);
    if (series)
      refuse({
        code: 'gauge-series',
        message: `“${series.input.gauge}” is known only over the whole run, and cannot be used in another formula.`,
        remedy: 'Write its formula here instead.',
      });
    const { then } = v;
    const dim = then === 'derivative' ? divide(program.dim, D.time) : then === 'integral' ? multiply(program.dim, D.time) : program.dim;
    const after = {
      as: undefined,
      derivative,
      integral,
      mean: movingMean(v.window),
      rms: movingRms(v.window),
      'low-pass': lowPass(v.window),
    }[then as 'as'];
    return {
      dim,
      loads: inputs.some((x) => x.channel.loads) || undefined,
      programs: [program, ...inputs.flatMap((x) => x.channel.programs ?? [])],
      angles: inputs.flatMap((x) => x.channel.angles ?? []),
      positive: 'As its formula says.',
      ...(after ? { after } : {}),
      stated(counter) {
        const values = inputs.flatMap(({ channel }) => channel.stated?.(counter) ?? []);
        return values.length < inputs.length ? undefined : { formula: program.stated, inputs: values };
      },
      read(s) {
        for (const { input, channel } of inputs) program.set(input, channel.read(s));
        return program.at(s.t).v;
      },
    };
  },
});
