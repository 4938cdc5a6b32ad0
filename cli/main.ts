import { Command, CommanderError } from 'commander';
import { OPERATIONS } from '#core/operations';
import { Refusal } from '#core/refusal';
import { bodiesCommand } from './bodies-command';
import { FINE, UNUSABLE } from './exit';
import { COMMAND_FORMS } from './forms';
import { historyCommand } from './history-command';
import { addOperationCommand } from './operation-command';
import { scanCommand, treeCommand } from './scan-commands';
import { verifyCommand } from './verify-command';

/** Runs one command. @returns the exit code */
export async function main(args: string[]): Promise<number> {
  let code = FINE;
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
    .command('bodies')
    .description('list the bodies of a file with their facts')
    .argument('<FILE>')
    .option('--product <ID>', 'one product of the file, with all below it')
    .option(...json)
    .action(run(bodiesCommand));
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
