/** Hands what works contact out to the equations. Apart from the rest, because many machines have none. */
import { ContactForce } from './equations/contact/contact-force';
import { provideContacts } from './equations/contact/contacts';
import { Normal } from './equations/contact/law';
import { meetingsOf } from './equations/contact/meeting';
import { MovedMass } from './equations/contact/moved-mass';

/** From now on there can be contact. */
export const bringContacts = (): void =>
  provideContacts(
    (asked) =>
      new ContactForce(
        asked.name,
        asked.pairs.flatMap(([a, b]) => meetingsOf(a, b)),
        new Normal(asked),
        asked.friction,
        new MovedMass(asked.bodies),
        asked.size,
      ),
  );
