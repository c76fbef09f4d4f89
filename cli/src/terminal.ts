/** What is written to the terminal: words, never the traces of a program; nothing that could move the cursor or turn text round. */
import { writeFileSync } from 'node:fs';
import { type Diagnosis, Refusal, describe, jsonPath } from '@vim-pivot/core';

/** Control and direction characters of names are shown by their number. */
export const visible = (text: string): string =>
  text.replace(/[\p{Cc}\p{Cf}\u2028\u2029]/gu, (c) => `\\u{${c.codePointAt(0)!.toString(16)}}`);

export const print = (line: string): void => void process.stdout.write(`${visible(line)}\n`);

export function explain(d: Diagnosis): void {
  print(describe(d));
  if (d.why) print(`    ${d.why}`);
}

export function printJson(diagnoses: readonly Diagnosis[], rest: object): void {
  process.stdout.write(
    `${JSON.stringify({ ...rest, diagnoses: diagnoses.map((d) => ({ ...d, ...(d.path ? { path: jsonPath(d.path) } : {}) })) }, null, 2)}\n`,
  );
}

/** Why the system would not do something with a file, in words. */
export function inSystemWords(e: unknown): string {
  const words: Record<string, string> = {
    ENOENT: 'there is no such file or folder',
    EACCES: 'it may not be used',
    EPERM: 'it may not be used',
    EISDIR: 'it is a folder',
    ENOTDIR: 'part of its path is no folder',
    ENOSPC: 'the disk is full',
    EROFS: 'the disk cannot be written',
    ENAMETOOLONG: 'its name is too long',
    EMFILE: 'too many files are open',
  };
  return words[(e as NodeJS.ErrnoException).code ?? ''] ?? 'the system gave no reason that is known';
}

export const refused = (code: string, message: string, remedy?: string): Refusal =>
  new Refusal([{ code, severity: 'error', message, ...(remedy ? { remedy } : {}) }]);

/** @throws Refusal when it cannot be written */
export function write(file: string, text: string): void {
  try {
    writeFileSync(file, text);
  } catch (e) {
    throw refused('file-unwritable', `The file ${file} cannot be written: ${inSystemWords(e)}.`);
  }
}

/** Runs a command. Whatever goes wrong becomes words (or JSON) and an exit code: 1 for the model or the call, 2 for a fault of the program. */
export async function guarded(options: { json?: boolean }, command: () => Promise<number> | number): Promise<void> {
  try {
    process.exitCode = await command();
  } catch (e) {
    const own = e instanceof Refusal;
    const diagnoses: readonly Diagnosis[] = own
      ? e.diagnoses
      : [
          {
            code: 'program-fault',
            severity: 'error',
            message: 'The program made an error of its own: it is not your model that is at fault.',
            remedy: 'Please keep the model file and this call for whoever looks after the program (PIVOT_TRACE=1 shows where it happened).',
          },
        ];
    if (!own && process.env.PIVOT_TRACE) process.stderr.write(`${e instanceof Error ? (e.stack ?? e.message) : String(e)}\n`);
    if (options.json) printJson(diagnoses, { status: 'refused' });
    else {
      diagnoses.forEach(explain);
      print(`${diagnoses.length} error${diagnoses.length === 1 ? '' : 's'}`);
    }
    process.exitCode = own ? 1 : 2;
  }
}

/** A reader that has gone away ends the program quietly. */
export function endWithReader(): void {
  for (const stream of [process.stdout, process.stderr])
    stream.on('error', (e: NodeJS.ErrnoException) => process.exit(e.code === 'EPIPE' ? 0 : 1));
}
