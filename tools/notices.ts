/**
 * Third-party notices: every package that is part of what is shipped, its licence, where its source is, and the texts of the licences. `npm run
 * notices` writes them.
 */
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

export interface Notice {
  name: string;
  version: string;
  licence: string;
  source: string;
  /** Its licence's text, where the package brings one. */
  text: string | undefined;
}

/** Licences under which changed or used source must be on offer. */
export const COPYLEFT = /\b(A?GPL|LGPL|MPL|EPL|CDDL)\b/;
/** What packages hold that their own licence does not name. */
const INSIDE: Readonly<Record<string, string>> = {
  'occt-import-js':
    'It holds Open CASCADE Technology, compiled (LGPL-2.1 with the Open CASCADE exception 1.0; source: https://dev.opencascade.org).',
};

/** Installed on some machines only: what is written must not depend on the machine. */
const PLATFORM = /^@(img|next|esbuild)\/|^fsevents$/;

interface Locked {
  version?: string;
  license?: string;
  resolved?: string;
  dev?: boolean;
  link?: boolean;
}

const addressOf = (repository: unknown, name: string): string => {
  const url = typeof repository === 'string' ? repository : ((repository as { url?: string } | undefined)?.url ?? '');
  const short = /^(?:github:)?([\w.-]+\/[\w.-]+)$/.exec(url);
  return short
    ? `https://github.com/${short[1]}`
    : url
        .replace(/^git\+/, '')
        .replace(/^git:\/\//, 'https://')
        .replace(/^ssh:\/\/git@/, 'https://')
        .replace(/\.git$/, '') || `npm: ${name}`;
};

/** Packages that are not for development alone, by name. */
export function notices(root: string): Notice[] {
  const lock = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')) as { packages: Record<string, Locked> };
  const found = new Map<string, Notice>();
  for (const [path, locked] of Object.entries(lock.packages)) {
    const at = path.lastIndexOf('node_modules/');
    if (at < 0 || locked.dev || locked.link) continue;
    const name = path.slice(at + 'node_modules/'.length),
      folder = join(root, path),
      here = !PLATFORM.test(name) && existsSync(join(folder, 'package.json'));
    const own = here ? (JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as { license?: unknown; repository?: unknown }) : {};
    const file = here ? readdirSync(folder).find((f) => /^(licen[cs]e|copying)(\.|$)/i.test(f)) : undefined;
    const licence = typeof own.license === 'string' ? own.license : (locked.license ?? 'not named');
    const version = locked.version ?? '';
    found.set(`${name}@${version}`, {
      name,
      version,
      licence,
      source: /^@img\//.test(name) ? 'https://github.com/lovell/sharp-libvips' : addressOf(own.repository, name),
      text: file && readFileSync(join(folder, file), 'utf8').trim(),
    });
  }
  return [...found.values()].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.version < b.version ? -1 : 1));
}

export function written(list: readonly Notice[]): string {
  const line = (n: Notice) => `- ${n.name} ${n.version}: ${n.licence}. ${n.source}${INSIDE[n.name] ? ` ${INSIDE[n.name]}` : ''}`;
  const copyleft = list.filter((n) => COPYLEFT.test(n.licence)),
    fonts = list.filter((n) => /^OFL/.test(n.licence));
  const texts = new Map<string, string[]>();
  for (const n of list) if (n.text) texts.set(n.text, [...(texts.get(n.text) ?? []), n.name]);
  return [
    '# Third-party notices',
    '',
    'Vim Pivot is under the MIT licence (LICENSE). It is shipped with the packages below. This file is written by `npm run notices`.',
    '',
    '## Copyleft: source on offer',
    '',
    'Unchanged, as their registry gives them. Their source is at the addresses beside them, and in the registry under the version named.',
    '',
    ...copyleft.map(line),
    '',
    '## Fonts',
    '',
    ...fonts.map(line),
    '',
    '## All packages',
    '',
    ...list.map(line),
    '',
    '## Texts of the licences',
    '',
    ...[...texts].flatMap(([text, names]) => [
      `### ${names.join(', ')}`,
      '',
      '```text',
      text.replace(/```/g, "'''").replace(/[ \t]+$/gm, ''),
      '```',
      '',
    ]),
  ].join('\n');
}

if (process.argv[1]?.endsWith('notices.ts')) writeFileSync('THIRD-PARTY-NOTICES.md', written(notices('.')));
