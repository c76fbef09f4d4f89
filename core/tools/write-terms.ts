/** Writes the list of labels in docs/terms.md from the declarations; the words above it are written by hand. */
import { readFileSync, writeFileSync } from 'node:fs';
import { FAMILIES, kindsOf } from '../src';

export const MARK = '<!-- from here on written by `npm run docs` from the declarations -->';

export const labels = (): string =>
  FAMILIES.map(({ key, label }) => {
    const kinds = kindsOf(key).map(
      (k) =>
        `- **${k.label}**${
          Object.keys(k.fields).length > 0
            ? `: ${Object.values(k.fields)
                .map((f) => f.label)
                .join(', ')}`
            : ''
        }`,
    );
    return `### ${label}\n\n${kinds.join('\n')}\n`;
  }).join('\n');

export const withLabels = (page: string): string => `${page.slice(0, page.indexOf(MARK) + MARK.length)}\n\n${labels()}`;

if (process.argv[1]?.endsWith('write-terms.ts')) writeFileSync('docs/terms.md', withLabels(readFileSync('docs/terms.md', 'utf8')));
