/** A length and an angle typed while a bar is drawn: `165 mm, 104 deg`. */
import { D, identical, readUnit, shownUnit } from '@vim-pivot/core/page';

export interface Typed {
  /** m */
  length?: number;
  /** Counted from across, rad. */
  angle?: number;
}

const NUMBER = /^([-−+]?\d*[.,]?\d+(?:e[-+]?\d+)?)\s*(\S*)$/i;
/** Numbers end at a tab, a semicolon, a comma before a space, or a space after a unit. */
const BETWEEN = /\t|;|,(?=\s|$)|(?<=[a-z°])\s+(?=[-−+.\d])/i;

/** @returns undefined when something in it is no length and no angle. The first plain number is a length, the second an angle, in the units shown. */
export function readTyped(text: string): Typed | undefined {
  const typed: Typed = {};
  for (const [k, part] of text
    .split(BETWEEN)
    .map((p) => p.trim())
    .entries()) {
    if (part === '') continue;
    const found = NUMBER.exec(part),
      unit = readUnit((found?.[2] || shownUnit(k === 0 ? D.length : D.angle)).replace('°', 'deg'));
    if (!found || !unit || k > 1) return undefined;
    const value = Number(found[1]!.replace('−', '-').replace(',', '.')) * unit.factor;
    if (identical(unit.dim, D.angle) && typed.angle === undefined) typed.angle = value;
    else if (identical(unit.dim, D.length) && typed.length === undefined && value > 0) typed.length = value;
    else return undefined;
  }
  return typed;
}
