/** A command for each analysis, as it is declared: its settings are options, its output is words, JSON or CSV. */
import { Command } from 'commander';
import type { Model } from '@vim-pivot/core';
import { type About, type Analysis, type Found, type Given, type Setting, analysed } from '@vim-pivot/core/analyses';
import { writeTable } from '@vim-pivot/core/csv';
import { explain, print, printJson, refused, write } from './terminal';

interface Call {
  asDrawn?: boolean;
  at?: string;
  csv?: string;
  json?: boolean;
  [setting: string]: unknown;
}

const PLACES = { count: '<number>', quantity: '<quantity>', amount: '<quantity>', name: '<names...>' } as const;
const isArgument = (s: Setting): boolean => s.type === 'name' && !s.several;
const told = (s: Setting): string =>
  `${s.label}: ${s.help.charAt(0).toLowerCase()}${s.help.slice(1)}${'example' in s ? ` For example "${s.example}".` : ''}`;

export function commandOf(a: Analysis): Command {
  const command = new Command(a.name).argument('<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)').description(a.help);
  for (const [key, s] of Object.entries(a.settings))
    if (isArgument(s)) command.argument(`<${key}>`, told(s));
    else if (s.type === 'name') command.requiredOption(`--${key} ${PLACES.name}`, told(s));
    else command.option(`--${key} ${PLACES[s.type]}`, told(s), s.type === 'count' ? String(s.default) : undefined);
  if (a.about === 'equilibrium')
    command.option('--as-drawn', 'about the assembled posture and its start motion instead of the static equilibrium');
  if (a.about) command.option('--at <time>', 'about where a run is at that time, for example "0.4 s"');
  return command.option('--csv <file>', 'write what was found as CSV').option('--json', 'print it as JSON');
}

/** @param named what stands in the call behind the file, in the order of the settings that are arguments */
export function analyseFile(a: Analysis, model: Model, named: readonly string[], call: Call): number {
  if (call.at !== undefined && call.asDrawn) throw refused('call-unclear', 'Either --at or --as-drawn: one posture at a time.');
  const about: About | undefined = call.at !== undefined ? 'time' : call.asDrawn ? 'start' : undefined,
    rest = [...named],
    settings = Object.fromEntries(
      Object.entries(a.settings).map(([key, s]) => [key, (isArgument(s) ? rest.shift() : call[key]) as Given['settings'][string]]),
    ),
    work = analysed(a.name, model, { ...(about ? { about } : {}), ...(call.at === undefined ? {} : { at: call.at }), settings });
  let step = work.next();
  while (!step.done) step = work.next();
  tell(step.value, call);
  return 0;
}

function tell(found: Found, { csv, json }: Call): void {
  if (csv !== undefined) write(csv, writeTable(found.table.columns, found.table.rows));
  if (json) return printJson(found.diagnoses, found.data);
  found.diagnoses.forEach(explain);
  for (const { label, detail, lists = [] } of found.items) {
    print(`${label}${detail ? `: ${detail}` : ''}`);
    for (const { title, rows } of lists) print(`    ${title}: ${rows.map(([name, value]) => `${name} ${value}`).join('; ')}`);
  }
  if (found.items.length === 0) print('none');
  if (csv !== undefined) print(`written to ${csv}`);
}
