const laws = new WeakMap<object, number>();
let lawsSeen = 0;

/** Laws by number: those with a table in them belong to that table alone. */
export function lawNumber(law: object): number {
  const known = laws.get(law) ?? ++lawsSeen;
  laws.set(law, known);
  return known;
}
