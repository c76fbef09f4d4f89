import { refuse } from '../../diagnosis';
import { choice, quantity, ref } from '../../model/fields';
import type { Assembly, CouplingKind } from '../declarations';
import { FREEDOMS, freedomOf, ratioOf } from '../freedoms';

const ratio = (joint: string, freedom: string) => ratioOf(['first', 'firstFreedom'], [joint, freedom]);

const term = (m: Assembly, joint: string, named: string, factor: number) => ({
  joint,
  freedom: freedomOf(m.joint(joint), named, 'to couple'),
  factor,
});

const FIELDS = {
  first: ref('joints', 'Joint', 'The joint whose coordinate follows: first = ratio × second (+ third ratio × third).'),
  firstFreedom: choice(FREEDOMS, 'Coordinate', 'Which coordinate of it.'),
  ratio: quantity(
    ratio('second', 'secondFreedom'),
    'Ratio',
    'Coordinate of the joint per coordinate of the second; negative when they turn against each other. Between turning and travel a length per angle, such as `20 mm/rad`.',
  ),
  second: ref('joints', 'Second', 'The joint it follows.'),
  secondFreedom: choice(FREEDOMS, 'Second coordinate', 'Which coordinate of it.'),
  third: ref('joints', 'Third', 'A further joint it follows, as in a differential.', { optional: true }),
  thirdFreedom: choice(FREEDOMS, 'Third coordinate', 'Which coordinate of it.', { when: { field: 'third' } }),
  thirdRatio: quantity(ratio('third', 'thirdFreedom'), 'Third ratio', 'The same for the third.', { when: { field: 'third' } }),
} as const;

export const coupler: CouplingKind<typeof FIELDS> = {
  family: 'couplings',
  kind: 'coupler',
  label: 'Coupler',
  handed: true,
  help: 'A linear relation between joint coordinates, whole turns counted: belts and chains, gear ratios, rack and pinion, differentials. It passes pure torques and forces between the joints; forces of teeth or belts on the bearings are not part of it.',
  fields: FIELDS,
  relation(v, m) {
    const terms = [term(m, v.first, v.firstFreedom, 1), term(m, v.second, v.secondFreedom, -v.ratio)];
    if (v.third) terms.push(term(m, v.third, v.thirdFreedom ?? 'first', -v.thirdRatio));
    const names = terms.map((t) => t.joint);
    if (new Set(terms.map((t) => t.freedom)).size < names.length)
      refuse({
        code: 'coupling-one-joint',
        message: `It couples a freedom of “${names[0]}” with itself.`,
        remedy: 'Choose different joints.',
      });
    return { terms };
  },
};
