/** Writes docs/command-line.md and docs/command-line.schema.json from the declarations of the outputs. */
import { writeFileSync } from 'node:fs';
import { z } from 'zod';
import { ANALYSES } from '@vim-pivot/core/analyses';
import { commandOf } from '../src/analysis';
import { OUTPUTS } from '../src/outputs';

type Schema = {
  description?: string;
  type?: string | string[];
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  anyOf?: Schema[];
  enum?: unknown[];
  const?: unknown;
};

const NAMES = Object.keys(OUTPUTS),
  schemaOf = (name: string): Schema => z.toJSONSchema(OUTPUTS[name]!) as Schema;

const typeOf = (s: Schema): string =>
  s.const !== undefined
    ? `\`${JSON.stringify(s.const)}\``
    : s.enum
      ? s.enum.map((x) => `\`${JSON.stringify(x)}\``).join(', ')
      : s.anyOf
        ? s.anyOf.map(typeOf).join(' or ')
        : s.items
          ? `list of ${typeOf(s.items)}`
          : String(s.type);
function rows(s: Schema, prefix = ''): string[] {
  return Object.entries(s.properties ?? {}).flatMap(([key, f]) => {
    const inner = f.items?.properties ? f.items : f.properties ? f : undefined,
      optional = !s.required?.includes(key);
    return [
      `| \`${prefix}${key}\` | ${typeOf(f)}${optional ? ', may be left out' : ''} | ${f.description ?? ''} |`,
      ...(inner && key !== 'diagnoses' ? rows(inner, `${prefix}${key}${f.items ? '[]' : ''}.`) : []),
    ];
  });
}

/** What an analysis is, and its settings. */
function asked(name: string): string {
  const a = ANALYSES.find((x) => x.name === name);
  if (!a) return '';
  const rows = commandOf(a)
    .options.filter((o) => !['--csv', '--json'].includes(o.long ?? ''))
    .map((o) => `| \`${o.flags}\` | ${o.description} |`);
  return `${a.help}\n\n${rows.length > 0 ? `| Option | Meaning |\n|---|---|\n${rows.join('\n')}\n\n` : ''}`;
}

export const schema = (): string => {
  const defs = Object.fromEntries(
    NAMES.map((k) => [k, Object.fromEntries(Object.entries(schemaOf(k)).filter(([key]) => key !== '$schema'))]),
  );
  return `${JSON.stringify({ $schema: 'https://json-schema.org/draft/2020-12/schema', title: 'Outputs of pivot --json', $defs: defs }, null, 2)}\n`;
};

export const page = (): string => `# The command line

<!-- written by \`npm run docs\` from cli/src/outputs.ts; do not edit by hand -->

\`npx pivot --help\` lists the commands, \`npx pivot run --help\` the options of one. Exit code 0: all is well. 1: the model, the run or the call has errors, or a run did not come to its end (a limit that stops
it included), or a gauge is not a number somewhere. 2: a fault of the program.

Curves written by \`run --csv\` have one row a recorded time and one column a gauge, with its unit in the header; \`--si\` gives SI units. A cell is empty where a gauge is not a number.
Where a run would record more than half a gigabyte it is asked first; \`--yes\` agrees beforehand.

Every command takes \`--json\`. The schema of what is then printed is in [command-line.schema.json](command-line.schema.json), and here in words. Findings (\`diagnoses\`) are alike everywhere:

| Field | Content | Meaning |
|---|---|---|
${rows(schemaOf('refused').properties!.diagnoses!.items!).join('\n')}

${NAMES.map((name) => `## ${name === 'refused' ? 'A command that could not begin' : `\`pivot ${name}\``}\n\n${asked(name)}| Field | Content | Meaning |\n|---|---|---|\n${rows(schemaOf(name)).join('\n')}`).join('\n\n')}
`;

if (process.argv[1]?.endsWith('write-docs.ts')) {
  writeFileSync('docs/command-line.md', page());
  writeFileSync('docs/command-line.schema.json', schema());
}
