/** What is to be said of a run that has come to its end: energy that nothing has put in, bodies that flew off, a machine that stood still. */
import type { Diagnosis } from '../diagnosis';
import { compiling, webAssembly } from '../kernel/webassembly';
import { where } from '../model/where';
import { D } from '../quantity/dimension';
import { formatQuantity } from '../quantity/units';
import { closingError } from '../system/ledger';
import type { Mechanism } from '../system/mechanism';
import { freedomCount } from './reduced';

/** That nothing is compiled here, or that something could not be, where that is so. */
export function notCompiled(): Diagnosis[] {
  const nothing = !webAssembly || compiling.refused;
  if (!nothing && compiling.why === undefined) return [];
  return [
    {
      code: 'not-compiled',
      severity: 'note',
      message: nothing
        ? 'Compiled code is not to be had here: the run was evaluated in plain JavaScript.'
        : 'Some code could not be compiled and was evaluated in plain JavaScript.',
      why: `${nothing ? 'There is no WebAssembly, or it is forbidden.' : `What was told: ${compiling.why}.`} The numbers are the same; a run takes many times as long.`,
      remedy: nothing ? 'Allow WebAssembly for this page, or use a current browser.' : 'Load the page anew; close what takes much memory.',
    },
  ];
}

export const CODE_DIFFERS: Diagnosis = {
  code: 'code-differs',
  severity: 'warning',
  message: 'The code that was made for this machine differs from its equations: these were evaluated one by one.',
  why: 'The program made an error of its own. It was seen before the run, whose numbers are right, and which took many times as long.',
  remedy: 'Please keep the model file for whoever looks after the program.',
};

/** That numbers of sixteen digits cannot keep what was asked over so long a run. @param times how many times more rounding comes to */
export const roundedOff = (accuracy: number, times: number): Diagnosis[] =>
  times <= 1
    ? []
    : [
        {
          code: 'accuracy-rounded',
          severity: 'note',
          message: `Over this run the motion is known to about ${(accuracy * times).toExponential(0)}, not to the ${accuracy.toExponential(0)} asked for.`,
          why: 'Each step is rounded to sixteen digits, and an error of speed grows with the time that follows.',
          remedy: 'Run for a shorter time where that matters, or ask for no more.',
        },
      ];

/** Energy that nothing has put in, and passive loads that feed energy in. @param liveliest largest kinetic energy of the run, J */
export function audit(m: Mechanism, t: number, accuracy: number, liveliest: number): Diagnosis[] {
  const { system, ledgers, model } = m;
  const { K } = system;
  const scale = Math.max(liveliest, ...ledgers.drives.map((d) => Math.abs(d.work(K))), ...ledgers.loads.map((l) => Math.abs(l.fed(K, t))));
  const open = closingError(ledgers, K);
  const out: Diagnosis[] = [];
  // below a billionth of what lifting the machine by its own size takes there is nothing to be said of energy
  const floor = Math.max(100 * accuracy * scale, 1e-9 * 9.80665 * m.size * m.bodies.reduce((s, b) => s + b.mass, 0));
  if (Math.abs(open) > floor) {
    out.push({
      code: 'energy-open',
      severity: 'warning',
      message: `The energy balance stays open by ${formatQuantity(open, D.energy, 'J', 3)} at the end.`,
      why: 'The motion was not followed accurately enough, or a force does not say the energy it stores.',
      remedy: 'Run again with a finer accuracy and compare.',
      time: t,
    });
  }
  m.bodies.forEach((b, i) => {
    const way = [0, 1, 2].map((k) => K.r[3 * i + k]! - b.origin[k as 0]),
      far = Math.max(...way.map(Math.abs));
    const leaving = way.reduce((s, x, k) => s + x * K.v[3 * i + k]!, 0) / far;
    // what has come to rest there is held
    if (far > 100 * m.size && leaving * t > 0.1 * far)
      out.push({
        code: 'body-away',
        severity: 'warning',
        message: `It ended ${formatQuantity(far, D.length, 'm', 3)} away from where it was drawn, and moves on at ${formatQuantity(leaving, D.speed, 'm/s', 3)}.`,
        why: 'Perhaps nothing carries it or holds it back.',
        remedy: 'Add the joint, stop or spring that should carry it.',
        time: t,
        ...where(model, 'bodies', b.name),
      });
  });
  for (const l of ledgers.loads) {
    const passive = !l.force.programs?.length;
    const fed = l.fed(K, t);
    if (!passive || fed <= floor) continue;
    out.push({
      code: 'energy-fed',
      severity: 'warning',
      message: `It has fed ${formatQuantity(fed, D.energy, 'J', 3)} into the machine.`,
      why: 'A spring, damper or bushing can only store and take energy.',
      remedy: 'Check the signs of its damping.',
      time: t,
      ...where(model, 'loads', l.name),
    });
  }
  return out;
}

/** Why nothing moved in a run. */
export function stoodStill(m: Mechanism): Diagnosis {
  const free = freedomCount(m.system),
    { forces } = m.assembly;
  if (free > 0 && forces.length > 0)
    return {
      code: 'run-still',
      severity: 'note',
      message: 'Nothing moved: the machine stands in equilibrium.',
      why: `Its loads balance each other along its ${free} free degree${free === 1 ? '' : 's'} of freedom.`,
      remedy: 'Give it a start motion or a drive if it should move.',
    };
  const why =
    free > 0
      ? 'There is no drive and no load, not even gravity.'
      : m.drives.length > 0
        ? 'Its joints and drives hold every degree of freedom, and the drives stand still.'
        : 'Its joints hold every degree of freedom.';
  return {
    code: 'run-still',
    severity: 'warning',
    message: 'Nothing moved in this run.',
    why,
    remedy: 'See the mobility above the scene, and what each joint holds.',
  };
}
