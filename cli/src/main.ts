/** `pivot`: the engine without a browser. Exit code 0 when all is well, 1 when a model or a run has errors, 2 for a fault of the program. */
import { Command, CommanderError, Option } from 'commander';
import {
  ANALYSIS_NAMES,
  METHOD_NAMES,
  PLANAR_NAMES,
  type Mechanism,
  type Model,
  Refusal,
  assemble,
  check,
  formatNumber,
  readUnit,
} from '@vim-pivot/core';
import { opened, wholeNumber } from './files';
import { type LinearCall, linear } from './linear';
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

program
  .command('modes')
  .argument(...FILE)
  .option('--as-drawn', 'about the assembled posture and its start motion instead of the static equilibrium')
  .option('--json', 'print them as JSON')
  .description('Natural frequencies, damping and shapes about the static equilibrium.')
  .action((file: string, options: { asDrawn?: boolean; json?: boolean }) =>
    guarded(options, async () => {
      const m = mechanismOf(await opened(file)),
        { equilibrium, modes } = await analyses();
      if (!options.asDrawn) equilibrium(m);
      const found = modes(m);
      if (options.json)
        printJson(found.diagnoses, { modes: found.modes.map((x) => ({ ...x, shape: { re: [...x.shape.re], im: [...x.shape.im] } })) });
      else {
        found.diagnoses.forEach(explain);
        found.modes.forEach((x, i) =>
          print(
            `  mode ${i + 1}: ${formatNumber(x.frequency)} Hz, damping ${formatNumber(x.damping)}, ${x.kinetic
              .slice(0, 3)
              .map((k) => `${k.body} ${Math.round(100 * k.share)} %`)
              .join(', ')}`,
          ),
        );
      }
      return 0;
    }),
  );

program
  .command('equilibria')
  .argument(...FILE)
  .option('--starts <number>', 'further postures to start from', '12')
  .option('--json', 'print them as JSON')
  .description(
    'Static equilibria, and whether each is stable: all where there is one degree of freedom, else those found from several starts.',
  )
  .action((file: string, options: { starts: string; json?: boolean }) =>
    guarded(options, async () => {
      const starts = wholeNumber('--starts', options.starts, 0, 10_000);
      const { list: found, complete, diagnoses } = (await analyses()).equilibria(mechanismOf(await opened(file)), 0, starts);
      if (options.json)
        printJson(diagnoses, {
          complete,
          equilibria: found.map((f) => ({
            stable: f.stable,
            neutral: f.neutral,
            held: f.held,
            energy: f.energy,
            iterations: f.iterations,
            state: [...f.y],
          })),
        });
      else {
        found.forEach((f, i) =>
          print(
            `  ${i + 1}: ${f.stable ? 'stable' : 'unstable'}, energy ${formatNumber(f.energy)} J${f.neutral.length > 0 ? `, nothing pulls back along ${f.neutral.join(', ')}` : ''}${f.held.length > 0 ? `, held by friction: ${f.held.join(', ')}` : ''}`,
          ),
        );
        diagnoses.forEach(explain);
      }
      return 0;
    }),
  );

program
  .command('linear')
  .argument(...FILE)
  .requiredOption('--in <names...>', 'inputs: drives, or loads with a magnitude or an effort')
  .requiredOption('--out <names...>', 'outputs: gauges')
  .option('--as-drawn', 'about the assembled posture and its start motion instead of the static equilibrium')
  .option('--at <time>', 'about where a run is at that time, for example "0.4 s"')
  .option('--from <frequency>', 'frequency response from here, for example "0.1 Hz"')
  .option('--to <frequency>', 'to here')
  .option('--points <number>', 'number of frequencies', '200')
  .option('--csv <file>', 'write the frequency response as CSV')
  .option('--json', 'print everything as JSON')
  .description(
    'The machine as a linear system A, B, C, D between inputs and gauges, with its poles, zeros and frequency response. All in SI units.',
  )
  .action((file: string, options: LinearCall) => guarded(options, async () => linear(await opened(file), mechanismOf, options)));

program
  .command('range')
  .argument(...FILE)
  .argument('<joint>', 'name of the joint')
  .option('--freedom <freedom>', 'rotation or translation; left out: its first')
  .option('--json', 'print it as JSON')
  .description('How far a joint goes both ways, and what ends it there. Drives are left out.')
  .action((file: string, joint: string, options: { freedom?: string; json?: boolean }) =>
    guarded(options, async () => {
      const model = await opened(file);
      const m = mechanismOf({ ...model, drives: [], gauges: [], scores: [], limits: [], workings: [] });
      const freedoms = m.assembly.joint(joint).freedoms;
      const freedom = [...freedoms].find(([type]) => options.freedom === undefined || type === options.freedom)?.[1];
      if (!freedom)
        throw new Refusal([
          {
            code: 'freedom-missing',
            severity: 'error',
            message: `“${joint}” has no such coordinate.`,
            element: { family: 'joints', name: joint },
          },
        ]);
      const r = (await analyses()).range(m, joint, freedom);
      const unit = freedom.type === 'rotation' ? 'deg' : 'mm',
        factor = readUnit(unit)!.factor;
      if (options.json)
        printJson([], {
          unit,
          start: r.start / factor,
          lower: { ...r.lower, at: r.lower.at / factor, posture: [...r.lower.posture] },
          upper: { ...r.upper, at: r.upper.at / factor, posture: [...r.upper.posture] },
        });
      else
        for (const [name, x] of [
          ['lower', r.lower],
          ['upper', r.upper],
        ] as const)
          print(`  ${name} end ${formatNumber(x.at / factor)} ${unit}: ${x.end}${x.binds ? ` (${x.binds.name})` : ''}`);
      return 0;
    }),
  );

/** They bring an eigenvalue library along. */
const analyses = () => import('@vim-pivot/core/analyses');

/** A model's mechanism at its assembled posture. @throws Refusal */
function mechanismOf(model: Model): Mechanism {
  const report = check(model);
  const errors = report.diagnoses.filter((d) => d.severity === 'error');
  const { mechanism } = report.built;
  if (errors.length > 0 || !mechanism) throw new Refusal(errors);
  mechanism.system.K.load(assemble(mechanism).y);
  return mechanism;
}

program.exitOverride();
for (const c of program.commands) c.exitOverride();
try {
  await program.parseAsync();
} catch (e) {
  // a call that does not fit has been told by the parser of the options
  if (!(e instanceof CommanderError)) throw e;
  process.exitCode = e.exitCode;
}
