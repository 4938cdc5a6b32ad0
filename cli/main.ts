import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { OPERATIONS } from '#core/operations';
import { Refusal } from '#core/refusal';
import { ORIGINS } from '#core/split/choices';
import { FINE, UNUSABLE } from './exit';
import { COMMAND_FORMS } from './forms';
import { addOperationCommand } from './operation-command';
import { packageCommand, unpackCommand, verifyCommand } from './package-commands';
import { scanCommand, treeCommand } from './scan-commands';
import { bodiesCommand, splitCommand } from './split-command';
import { undoCommand } from './undo-command';

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
    .command('undo')
    .description('take the latest change in a folder back')
    .argument('<DIR>')
    .option(...json)
    .action(run(undoCommand));
  program
    .command('bodies')
    .description('list the bodies of a file with their facts')
    .argument('<FILE>')
    .option('--product <ID>', 'one product of the file, with all below it')
    .option(...json)
    .action(run(bodiesCommand));
  program
    .command('split')
    .description('make component files and an assembly out of a part of many bodies')
    .argument('<FILE>')
    .option('--product <ID>', 'one product of the file, with all below it')
    .option('--to <DIR>', 'folder of the new files')
    .option('--root <DIR>', 'the folder that links may lead to')
    .option('--no-merge', 'one file a body, also for bodies of the same shape')
    .addOption(
      new Option('--names <FROM>', 'where names come from').choices(['body', 'number']).default('body'),
    )
    .option('--pattern <P>', 'names by a pattern of {source}, {number}, {body}, {size}')
    .option('--origin <WHERE>', 'source or body (or centre, corner, centroid, axis)', origin, 'source')
    .option('--in-file', 'one assembly file with the parts inside it')
    .option('--no-tie', 'the new files do not remember their source')
    .option('--check', 'have the geometry kernel hold the result against the source')
    .option('--dry-run', 'show what would change and change nothing')
    .option(...json)
    .action(run(splitCommand));
  program
    .command('package')
    .description('pack a file with everything it needs')
    .argument('<FILE>')
    .requiredOption('--out <ZIP>', 'the package to write')
    .option('--root <DIR>', 'the folder that links may lead to')
    .option('--flatten', 'all files in one folder')
    .option('--prefix <P>', 'put before every name', '')
    .option('--suffix <S>', 'put after every name', '')
    .option('--allow-broken', 'pack although links are broken')
    .option(...json)
    .action(run(packageCommand));
  program
    .command('verify')
    .description('check a package')
    .argument('<ZIP>')
    .option(...json)
    .action(run(verifyCommand));
  program
    .command('unpack')
    .description('lay the files of a package out in a folder')
    .argument('<ZIP>')
    .requiredOption('--to <DIR>', 'where to')
    .option('--on-conflict <CHOICE>', 'keep, replace or both', conflictChoice, 'keep')
    .option(...json)
    .action(run(unpackCommand));

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

function origin(text: string): string {
  if (text === 'body') return 'centre';
  if (!ORIGINS.some((known) => known === text))
    throw new InvalidArgumentError(`It is source, body, ${ORIGINS.slice(1).join(', ')}.`);
  return text;
}

function conflictChoice(text: string): string {
  if (!['keep', 'replace', 'both'].includes(text))
    throw new InvalidArgumentError('It is keep, replace or both.');
  return text;
}
