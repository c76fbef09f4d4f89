import type { ResolvedElement } from '../model/resolved-element';

/** Bodies that a load acts on. */
export const bodiesOf = ({ kind, values }: ResolvedElement): string[] =>
  Object.entries(kind.fields).flatMap(([key, f]) =>
    (f.type === 'ref' || f.type === 'refs') && f.family === 'bodies' ? [values[key]].flat().map(String) : [],
  );
