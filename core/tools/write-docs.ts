/** Writes docs/model-format.md and docs/model.schema.json from the declarations. `--check` only compares. */
import { readFileSync, writeFileSync } from 'node:fs';
import {
  ANALYSIS_NAMES,
  type Dimension,
  FAMILIES,
  FUNCTIONS,
  type Field,
  METHOD_NAMES,
  PLANAR_NAMES,
  baseUnits,
  kindsOf,
  shownUnit,
  unitNames,
} from '../src';
import { modelJsonSchema } from '../src/model/file';

const example = readFileSync('examples/sorting-gate.pivot.json', 'utf8');

const oneOf = (names: readonly string[]): string => names.map((n) => `\`${n}\``).join(', ');

function content(f: Field): string {
  switch (f.type) {
    case 'quantity': {
      const d = Array.isArray(f.dim) ? (f.dim as unknown as Dimension) : undefined;
      const unit = d ? shownUnit(d) || 'no unit' : 'any unit that fits';
      return `quantity (${unit})${f.time ? ', may depend on time' : ''}${f.gauges ? ' and gauges' : ''}`;
    }
    case 'vector':
      return `three quantities (${shownUnit(f.dim) || 'no unit'})`;
    case 'ref':
      return `name of one of the ${f.family}`;
    case 'refs':
      return `list of ${f.min === f.max ? f.min : `${f.min} to ${f.max}`} names of ${f.family}`;
    case 'text':
    case 'assigned':
      return 'text';
    case 'colour':
      return 'colour';
    case 'grid':
      return `rows of ${f.columns} numbers`;
    case 'choice':
      return Object.keys(f.options)
        .map((o) => `\`${o}\``)
        .join(', ');
  }
}
const fallback = (f: Field): string =>
  'default' in f && f.default !== undefined ? `\`${JSON.stringify(f.default)}\`` : f.optional ? 'may be left out' : 'needed';

const families = FAMILIES.map(({ key, label }) => {
  const kinds = kindsOf(key).map((k) => {
    const title = kindsOf(key).length > 1 ? `### ${label}: \`"kind": "${k.kind}"\` (${k.label})` : `### ${label}`;
    const rows = Object.entries(k.fields).map(([name, f]) => `| \`${name}\` | ${content(f)} | ${fallback(f)} | ${f.help} |`);
    return `${title}\n\n${k.help}\n\n| Field | Content | Default | Meaning |\n|---|---|---|---|\n${rows.join('\n')}\n`;
  });
  return kinds.join('\n');
});

const functions = Object.entries(FUNCTIONS)
  .filter(([, f]) => !f.operator)
  .map(([name, f]) => `| \`${name}(${f.args.join(', ')})\` | ${f.help ?? ''} |`);

const page = `# The model file

<!-- written by \`npm run docs\` from the declarations in core/src/elements; do not edit by hand -->

A model is one JSON file, \`*.pivot.json\`. The JSON Schema is [model.schema.json](model.schema.json). The program writes files with families and fields
in a fixed order, one element a line, so that two versions differ only where something was changed.

- **Head**: \`"format": "vim-pivot-model"\`, \`"version": 1\`, \`"name"\`, optional \`"note"\`, \`"ground"\` (the name of the fixed body, \`"Ground"\` when left out).
- **run**: \`until\` (end time), \`every\` (recording interval), \`accuracy\` (relative accuracy of the motion). The three are independent.
  Optional are \`longest\` (longest step of the solver), \`analysis\` (${oneOf(ANALYSIS_NAMES)}), \`method\` of a dynamic run (${oneOf(METHOD_NAMES)}), and \`planar\`
  (${oneOf(PLANAR_NAMES)}): whether bodies that their joints hold in a plane are computed in it.
- **Families**: lists of elements; an empty list may be left out. Every element has a \`name\`, unique within its family, and may have a \`note\` and \`"off": true\`
  (switched off; what refers to it is then off too). References are by name.

## Quantities and formulas

A quantity is a JSON number in SI units (m, kg, s, rad, N, …) or a formula in quotes: \`"40 mm"\`, \`"2*arm + 10 mm"\`. Formulas are checked for dimension.
\`+ - * / ^\`, brackets, \`pi\`, \`tau\`, parameters by name, and \`t\` (time) where a field may depend on time. A number directly followed by a name is a quantity and binds
tighter than \`*\` and \`/\`: \`1/2 s\` is 1/(2 s). As in the SI, an angle counts as a pure number where dimensions are compared, but a bare number is not taken for an angle: write \`90 deg\`.

Units: ${unitNames()
  .map((u) => `\`${u}\``)
  .join(' ')}, and products and powers of them such as \`N*m\`, \`kg/m^3\`. Base: ${baseUnits([1, 1, 1, 1, 1, 1]).replaceAll('·', ', ')}.

| Function | Gives |
|---|---|
${functions.join('\n')}

## Places

A point is fixed in the ground, or in a body whose axes its coordinates are in. A body's axes are drawn at its \`origin\` point, turned by \`rotation\` (about ground x, then y, then z)
and, with \`aim\`, by the shortest way until x points to that point. This is the *drawn posture*: it need only be roughly right. A joint with two points brings them together in assembly;
with one point both bodies hold that place as drawn.

## Elements

${families.join('\n')}
## A complete example

\`examples/sorting-gate.pivot.json\`:

\`\`\`json
${example.trim()}
\`\`\`
`;

const files: Record<string, string> = {
  'docs/model-format.md': page,
  'docs/model.schema.json': `${JSON.stringify(modelJsonSchema(), null, 1)}\n`,
};
for (const [file, text] of Object.entries(files)) {
  if (process.argv.includes('--check')) {
    if (readFileSync(file, 'utf8') !== text) {
      console.error(`${file} is not what \`npm run docs\` writes.`);
      process.exitCode = 1;
    }
  } else writeFileSync(file, text);
}
