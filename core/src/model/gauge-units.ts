/** The unit in which a gauge is shown. */
import { refuse } from '../diagnosis';
import { type Dimension, compatible, identical, inWords } from '../quantity/dimension';
import { readUnit } from '../quantity/units';
import type { Model, RawElement } from './document';

/** Units in a formula: what stands behind a number. */
const UNITS = /\d\.?\s*([A-Za-z°µ]+(?:[*/^][A-Za-z0-9°µ]+)*)/g;

/**
 * The unit asked for; else the one typed for the motion that is read, so that 25 rad/s is read as 25 rad/s; undefined: the usual one.
 * @throws Refusal when the unit asked for does not fit
 */
export function unitOfGauge(model: Model, gauge: RawElement, dim: Dimension): string | undefined {
  const asked = typeof gauge.unit === 'string' ? gauge.unit.trim() : '';
  if (asked !== '') {
    const unit = readUnit(asked);
    if (unit && compatible(unit.dim, dim)) return asked;
    refuse({
      code: 'gauge-unit',
      message: unit ? `It reads ${inWords(dim)}, which cannot be shown in ${asked}.` : `“${asked}” is not a unit.`,
      path: ['gauges', model.gauges.indexOf(gauge), 'unit'],
      remedy: 'Write for example mm, rad/s, kN; or leave it out.',
    });
  }
  const joint = gauge.joint ?? model.drives.find((d) => d.name === gauge.drive)?.joint;
  if (typeof joint !== 'string') return undefined;
  for (const text of [...model.drives, ...model.starts].filter((e) => e.joint === joint).flatMap((e) => [e.value, e.position, e.speed])) {
    for (const [, unit] of typeof text === 'string' ? text.matchAll(UNITS) : []) {
      const u = readUnit(unit!);
      if (u && identical(u.dim, dim)) return unit;
    }
  }
  return undefined;
}
