import { Command, CommanderError } from 'commander';
import { REGISTRY } from '#core/operations';
import { Refusal } from '#core/refusal';
import { FINE, UNUSABLE } from './exit';
import { addOperationCommand } from './operation-command';
import { addReportCommand } from './report-command';
import { addTidyCommand } from './tidy-command';
import { usageInWords } from './usage';

/** Runs one command. @returns the exit code */
export async function main(args: string[]): Promise<number> {
  let code = FINE;
  const onDone = (exit: number) => {
    code = exit;
  };
  // Whoever reads what is printed may have enough of it, as `head` does.
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE') process.exit(FINE);
    throw error;
  });
  const program = new Command('stonetray')
    .description('Keeps the links of multi-file CAD assemblies whole, in a folder on disk.')
    .exitOverride()
    // What is wrong with a command is said below, in words of ours.
    .configureOutput({ outputError: () => {} });
  try {
    // Of the others only their names are wanted: what belongs to a command is loaded with it.
    const asked = args.find((arg) => !arg.startsWith('-'));
    for (const entry of REGISTRY) {
      const isAsked = asked === (('command' in entry ? entry.command : undefined) ?? entry.name);
      if (entry.kind === 'report') addReportCommand(program, entry, isAsked, onDone);
      else await addOperationCommand(program, entry, isAsked, onDone);
    }
    addTidyCommand(program, onDone);
    await program.parseAsync(args, { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.exitCode === 0) return FINE;
      process.stderr.write(`stonetray: ${usageInWords(error)}\n`);
      return UNUSABLE;
    }
    process.stderr.write(`stonetray: ${error instanceof Error ? error.message : String(error)}\n`);
    if (!(error instanceof Refusal) && process.env.STONETRAY_TRACE)
      process.stderr.write(`${(error as Error).stack}\n`);
    return UNUSABLE;
  }
}
