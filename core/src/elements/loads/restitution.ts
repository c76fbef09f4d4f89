import { refuse } from '../../diagnosis';

/** @throws Refusal where an impact would give back more than it takes */
export function atMostOne(restitution: number, name: string): void {
  if (restitution > 1)
    refuse({
      code: 'restitution-large',
      message: 'Restitution is larger than 1.',
      why: 'It would come back faster than it went.',
      remedy: 'Choose a value from 0 to 1.',
      element: { family: 'loads', name },
    });
}
