/** `pivot`: the engine without a browser. Exit code 0 when all is well, 1 when a model or a run has errors, 2 for a fault of the program. */
import { Command, CommanderError, Option } from 'commander';
import { ANALYSIS_NAMES, METHOD_NAMES, PLANAR_NAMES, check } from '@vim-pivot/core';
import { ANALYSES } from '@vim-pivot/core/analyses';
import { analyseFile, commandOf } from './analysis';
import { opened } from './files';
import { type RunCall, run } from './run';
import { endWithReader, explain, guarded, print, printJson } from './terminal';

endWithReader();

const FILE = ['<file>', 'model file (*.pivot.json) or project file (*.pivot.zip)'] as const;
const program = new Command('pivot').description('Check and run Vim Pivot models from the command line.');

program
  .command('check')
  .argument(...FILE)
  .option('--json', 'print the findings as JSON')
  .description('Say what is wrong with a model. Exit code 1 when there are errors.')
  .action((file: string, options: { json?: boolean }) =>
    guarded(options, async () => {
      const { diagnoses, mobility } = check(await opened(file));
      const errors = diagnoses.filter((d) => d.severity === 'error').length;
      if (options.json)
        printJson(diagnoses, mobility ? { mobility: { joints: mobility.joints, free: mobility.free, redundant: mobility.redundant } } : {});
      else {
        diagnoses.forEach(explain);
        if (mobility)
          print(
            `mobility ${mobility.joints}, ${mobility.free} left free by the drives, ${mobility.redundant} redundant constraint${mobility.redundant === 1 ? '' : 's'}`,
          );
        print(errors === 0 ? 'no errors' : `${errors} error${errors === 1 ? '' : 's'}`);
      }
      return errors === 0 ? 0 : 1;
    }),
  );

program
  .command('run')
  .argument(...FILE)
  .option('--until <time>', 'end time, for example "4 s"')
  .option('--every <time>', 'recording interval, for example "1 ms"')
  .option('--accuracy <number>', 'accuracy of the motion, relative')
  .option('--longest-step <time>', 'longest step of the solver; left out: chosen by the solver')
  .addOption(new Option('--analysis <kind>', 'what is computed').choices(ANALYSIS_NAMES))
  .addOption(new Option('--method <kind>', 'integration method').choices(METHOD_NAMES))
  .addOption(
    new Option('--planar <choice>', 'bodies that joints hold in a plane are computed in it, or all in space').choices(PLANAR_NAMES),
  )
  .option('--table <name=file.csv...>', 'replace the rows of a table by those of a CSV file, in the units of the table')
  .option(
    '--sensitivity [names...]',
    'what moves the scores: numbers of the model, by their names or those of their elements; left out: all',
  )
  .option('--sensitivity-csv <file>', 'write how all gauges change with these numbers over the run')
  .option('--start <file>', 'start from a state written by --save-state')
  .option('--save-state <file>', 'write the state at the end')
  .option('--csv <file>', 'write all gauges as CSV')
  .option('--si', 'gauges in SI units, in the CSV as well')
  .option('--yes', 'do not ask, however much would be recorded')
  .option('--json', 'print the outcome as JSON')
  .description('Run a model; read its gauges, scores and limits. Exit code 1 when it does not come to its end.')
  .action((file: string, options: RunCall) => guarded(options, () => run(file, options)));

for (const a of ANALYSES)
  program.addCommand(
    commandOf(a).action((file: string, ...rest: unknown[]) => {
      const call = rest.at(-2) as { json?: boolean };
      return guarded(call, async () => analyseFile(a, await opened(file), rest.slice(0, -2) as string[], call));
    }),
  );

program.exitOverride();
for (const c of program.commands) c.exitOverride();
try {
  await program.parseAsync();
} catch (e) {
  // a call that does not fit has been told by the parser of the options
  if (!(e instanceof CommanderError)) throw e;
  process.exitCode = e.exitCode;
}
