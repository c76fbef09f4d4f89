/** Hands what works contact out to the equations and the checks. Apart from the rest, because many machines have none. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
import { provideContactFaults } from './checks/contact';
import { faultsOfContact } from './checks/contact-faults';
import { ContactForce } from './equations/contact/contact-force';
import { provideContacts } from './equations/contact/contacts';
import { Power, tabled } from './equations/contact/elastic';
import { Normal } from './equations/contact/law';
import { Meetings } from './equations/contact/meetings';
import { MovedMass } from './equations/contact/moved-mass';
import { pairsOf } from './equations/contact/pairs';

/** From now on there can be contact. */
export function bringContacts(): void {
  provideContactFaults(faultsOfContact);
  provideContacts(
    (asked) =>
      new ContactForce(
        asked.name,
        new Meetings(pairsOf(asked)),
        new Normal({
          elastic: asked.curve ? tabled(asked.curve, asked.name) : new Power(asked.stiffness, asked.exponent),
          restitution: asked.restitution,
        }),
        {
          ...asked.friction,
          runs: asked.friction.runs.some((x) => x !== 0)
            ? { bodies: asked.second.map((b) => asked.machine.index(b)), speed: asked.friction.runs }
            : undefined,
        },
        new MovedMass(asked.machine.bodies),
        asked.machine.size,
      ),
  );
}
