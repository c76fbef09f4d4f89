/** Adding what is offered; apart from the editing of fields, because the first screen does without it. */
import { edit, select, useDocument } from '../document/document';
import { freeName } from '../document/free-name';
import { bodyNameFor, nameFor } from '../document/names';
import type { Offer } from './offers';

/** Adds what was offered (with its body), named after its kind unless it has a name, as one undo step. */
export function addOffer({ element, body, kind }: Offer): void {
  const { model } = useDocument.getState();
  if (!model) return;
  const own = body && freeName('bodies', body.name || bodyNameFor(kind, element), model);
  const name = freeName(kind.family, element.name || nameFor(kind, own ? { ...element, body: own } : element, model), model);
  edit(`Add ${name}`, (m) => {
    if (body && own) m.bodies.push({ ...body, name: own });
    m[kind.family].push({ ...kind.fresh, ...element, name, ...(own ? { body: own } : {}) });
  });
  select(own ? { family: 'bodies', name: own } : { family: kind.family, name });
}
