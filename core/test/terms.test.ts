/** The words of the interface are those of docs/terms.md. */
import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FAMILIES, kindsOf } from '../src';
import { withLabels } from '../tools/write-terms';

const page = readFileSync('docs/terms.md', 'utf8');
/** Words of the third column. */
const unwanted = page
  .split('\n')
  .filter((l) => /^\| [^-T]/.test(l))
  .flatMap((l) =>
    l
      .split('|')[3]!
      .split(',')
      .map((w) => w.replace(/\(.*?\)/, '').trim())
      .filter((w) => w !== ''),
  );
/** A word as a whole, in any case; not where it is part of a term, nor in code within a text. */
const says = (text: string, word: string): boolean =>
  new RegExp(`\\b${word}\\b`, 'i').test(text.replace(/degrees? of freedom|energy balance|\$\{[^}]*\}/gi, ''));

/** Texts between quotes or tags of a source file, comments left out. */
const shown = (source: string): string[] => {
  const bare = source.replace(/\/\*[\s\S]*?\*\//g, '').replace(/(^|\s)\/\/.*$/gm, '');
  return [...bare.matchAll(/'((?:[^'\\\n]|\\.)*)'|"([^"\n]*)"|`([^`]*)`|>([^<>{}]+)</g)]
    .map((m) => m[1] ?? m[2] ?? m[3] ?? m[4] ?? '')
    .filter((t) => /[a-z] [a-z]/i.test(t) || /^[A-Z][a-z]+$/.test(t));
};
const sources = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile() && /\.tsx?$/.test(e.name) && !/node_modules|\.next|test/.test(e.parentPath))
    .map((e) => `${e.parentPath}/${e.name}`);

describe('terms', () => {
  it('the list of labels is that of the declarations', () => expect(page).toBe(withLabels(page)));
  it('there are unwanted words, and each would be found', () => {
    expect(unwanted).toEqual(expect.arrayContaining(['balance', 'free motion', 'direction held twice', 'naught', 'told']));
    expect(says('Nothing is told of it', 'told')).toBe(true);
  });
  it.each(FAMILIES.map((f) => f.key))('%s: no label and no help uses an unwanted word', (family) => {
    for (const k of kindsOf(family))
      for (const text of [
        k.label,
        k.help,
        ...Object.values(k.fields).flatMap((f) => [f.label, f.help, ...(f.type === 'choice' ? Object.values(f.options) : [])]),
      ]) {
        for (const w of unwanted) expect(says(text, w), `${k.kind}: “${w}” in “${text}”`).toBe(false);
      }
  });
  it('nor does what the interface shows', () => {
    const found = [...sources('web/features'), ...sources('web/ui'), ...sources('core/src/checks')].flatMap((file) =>
      shown(readFileSync(file, 'utf8')).flatMap((text) =>
        unwanted.filter((w) => says(text, w)).map((w) => `${file}: “${w}” in “${text.trim().slice(0, 80)}”`),
      ),
    );
    expect(found).toEqual([]);
  });
});
