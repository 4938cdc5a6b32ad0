import { Command, CommanderError } from 'commander';
import { OPERATIONS } from '#core/operations';
import { Refusal } from '#core/refusal';
import { bodiesCommand } from './bodies-command';
import { FINE, UNUSABLE, UsageError } from './exit';
import { COMMAND_FORMS } from './forms';
import { historyCommand } from './history-command';
import { leaksCommand } from './leaks-command';
import { addOperationCommand } from './operation-command';
import { scanCommand, treeCommand } from './scan-commands';
import { tidyCommand } from './tidy-command';
import { verifyCommand } from './verify-command';

/** Runs one command. @returns the exit code */
export async function main(args: string[]): Promise<number> {
  let code = FINE;
  // Whoever reads what is printed may have enough of it, as `head` does.
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE') process.exit(FINE);
    throw error;
  });
  const run =
    <Arguments extends unknown[]>(command: (...given: Arguments) => Promise<number>) =>
    async (...given: Arguments) => {
      code = await command(...given);
    };
  const program = new Command('stonetray')
    .description('Keeps the links of multi-file CAD assemblies whole, in a folder on disk.')
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(text) });
  const json = ['--json', 'print JSON for programs'] as const;

  program
    .command('scan')
    .description('list the files of a folder and the state of their links')
    .argument('<DIR>')
    .option(...json)
    .option('--search <FOLDER...>', 'folders in which files are looked for')
    .action(run(scanCommand));
  program
    .command('tree')
    .description('print the product structure below a file')
    .argument('<FILE>')
    .option('--root <DIR>', 'the folder that links may lead to')
    .option(...json)
    .action(run(treeCommand));
  for (const operation of OPERATIONS)
    addOperationCommand(program, operation, COMMAND_FORMS[operation.name] ?? {}, (exit) => {
      code = exit;
    });
  program
    .command('history')
    .description('list what was done in a folder')
    .argument('<DIR>')
    .option(...json)
    .action(run(historyCommand));
  program
    .command('tidy')
    .description('let go of what only old changes need to be taken back')
    .argument('<DIR>')
    .option('--older-than <DAYS>', 'changes older than this cannot be taken back then', days, 90)
    .option(...json)
    .action(run(tidyCommand));
  program
    .command('bodies')
    .description('list the bodies of a file with their facts')
    .argument('<FILE>')
    .option('--product <ID>', 'one product of the file, with all below it')
    .option(...json)
    .action(run(bodiesCommand));
  program
    .command('leaks')
    .description('say what can be told from a file besides the outside of its bodies')
    .argument('<FILE>')
    .option(...json)
    .action(run(leaksCommand));
  program
    .command('verify')
    .description('check a package')
    .argument('<ZIP>')
    .option(...json)
    .action(run(verifyCommand));
  try {
    await program.parseAsync(args, { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? FINE : UNUSABLE;
    process.stderr.write(`stonetray: ${error instanceof Error ? error.message : String(error)}\n`);
    if (!(error instanceof Refusal) && process.env.STONETRAY_TRACE)
      process.stderr.write(`${(error as Error).stack}\n`);
    return UNUSABLE;
  }
}

/** @throws UsageError for anything but a number of days */
function days(text: string): number {
  const value = Number(text.replace(/d$/, ''));
  if (!Number.isFinite(value) || value < 0) throw new UsageError(`${text} is no number of days.`);
  return value;
}
