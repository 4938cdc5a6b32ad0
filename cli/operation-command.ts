import { readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Command } from 'commander';
import { measureBodies, meshBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import type { Kernel } from '#core/geometry/shape/kernel';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { findProjectRoot } from '#core/jobs/handoff/project-root';
import { type Operation, type Planned, planOperation } from '#core/operation';
import type { PlanContext } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import { Draft } from '#core/project/change/draft';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { unpackInMemory } from '#core/project/change/unpack';
import { scanContent } from '#core/project/scan/content';
import { scanFileSet } from '#core/project/scan/scan';
import { FINE, UsageError } from './exit';
import { addFlags, choicesFrom, choicesIn } from './flags';
import { plural, printJson, printLine, slashed } from './output';
import { receivedFrom } from './received';

/** What is told after an operation, or after a dry run of it. */
export interface Told<Preview> extends Planned<Preview> {
  context: PlanContext;
  files: FolderFileSet;
  dryRun: boolean;
  applied: boolean;
  json: boolean;
}

/** What is particular to the command of one operation. */
export interface CommandForm<Choices = object, Preview = unknown> {
  /** What is named first, where it is not the folder or the file that is worked on. */
  argument?: string;
  /** More arguments behind the folder or the file, as they stand in the help: `<FROM> <TO>`. */
  arguments?: string;
  /** Choices that have flags of their own, or none. */
  ownFlags?: readonly (keyof Choices & string)[];
  /** Adds those flags. */
  options?(command: Command): void;
  /** The folder to work in, where it is not the project's around the file. It is made with the first change when it is not there. */
  folder?(given: Given, project: string): string;
  /** What the flags say, as choices. */
  choices?(
    given: Given,
    context: PlanContext,
    root: string,
    more: readonly (string | string[])[],
    argument: string,
  ): Partial<Choices>;
  /** Writes the result elsewhere than into the project. @returns whether it did */
  apply?(planned: Planned<Preview>, given: Given, files: FolderFileSet): Promise<boolean>;
  /** It says itself why something cannot be carried out. */
  tellsHindrance?: boolean;
  /** Prints what was done. @returns the exit code */
  tell?(told: Told<Preview>, given: Given): number | Promise<number>;
}

/** Flags of a command, as they were given. */
// biome-ignore lint/suspicious/noExplicitAny: each command knows what its flags hold
export type Given = { [flag: string]: any };

/** Adds the command of an operation: its flags come from its choices, what it prints from its change. */
export function addOperationCommand<Choices extends object, Preview>(
  program: Command,
  operation: Operation<Choices, Preview>,
  form: CommandForm<Choices, Preview>,
  onDone: (code: number) => void,
): void {
  // An operation on a file takes it as its choice `file`, in the project around it; others work in a folder.
  const isFile = ['file', 'body'].includes(operation.accepts.what);
  const command = program
    .command(operation.command ?? operation.name)
    .description(inCommandWords(operation.purpose))
    .argument(form.argument ?? (isFile ? '<FILE>' : '<DIR>'));
  if (form.arguments) command.arguments(form.arguments);
  const ownFlags = [...(form.ownFlags ?? []), ...(isFile ? ['file'] : [])];
  const flags = addFlags(command, operation.choices, ownFlags);
  form.options?.(command);
  if (isFile) command.option('--root <DIR>', 'the folder that links may lead to');
  command
    .option('--choices <FILE>', 'a JSON file with choices, for those that have no flag')
    .option('--dry-run', 'show what would change and change nothing')
    .option('--json', 'print JSON for programs')
    .action(async (argument: string, ...rest: unknown[]) => {
      // Commander adds the options and the command itself.
      const more = rest.slice(0, -2) as (string | string[])[];
      const given: Given = command.opts();
      const { choices: listed, dryRun = false, json = false } = given;
      const project = isFile ? path.resolve(given.root ?? (await projectAround(argument))) : argument;
      const place = form.folder?.(given, project);
      const openFolder = () => {
        if (place !== undefined) return FolderFileSet.openToMake(place);
        return dryRun ? FolderFileSet.open(project) : FolderFileSet.openToChange(project);
      };
      await inFolder(await openFolder(), async (context, files) => {
        const asked = {
          ...(listed === undefined ? {} : choicesIn(await readText(listed), listed)),
          ...(isFile && { file: slashed(path.relative(files.root, path.resolve(argument))) }),
          ...choicesFrom(command, flags),
          ...form.choices?.(given, context, files.root, more, argument),
        };
        const planned = await planOperation(operation, context, asked);
        // Commands that can tell of a hindrance in their own way do.
        if (planned.hindrance !== undefined && !form.tellsHindrance) throw new UsageError(planned.hindrance);
        const applied = !dryRun && planned.change.changes.length > 0;
        if (applied && !(await form.apply?.(planned, given, files))) await files.apply(planned.change);
        const told = { ...planned, context, files, dryRun, applied, json };
        onDone(await (form.tell ?? tellChange)(told, given));
      });
    });
}

/** The folder of the project that a file belongs to. @throws UsageError for a file that is not there */
async function projectAround(file: string): Promise<string> {
  const info = await stat(file).catch(() => undefined);
  if (!info?.isFile()) throw new UsageError(`${file} cannot be read: is it there, and a file?`);
  return findProjectRoot(file);
}

/** Works in a folder: scanned, and with a kernel where one is wanted. */
async function inFolder(
  files: FolderFileSet,
  work: (context: PlanContext, files: FolderFileSet) => Promise<void>,
): Promise<void> {
  const project = await scanFileSet(files);
  let kernel: ThreadedKernel | undefined;
  const made = new Map<string, Promise<unknown>>();
  const remember = <Made>(key: string, make: () => Promise<Made>): Promise<Made> => {
    const known = made.get(key) ?? make();
    made.set(key, known);
    return known as Promise<Made>;
  };
  const context: PlanContext = {
    project,
    draft: new Draft(files, project),
    now: new Date(),
    progress: async () => {},
    signal: new AbortController().signal,
    get kernel(): Kernel {
      kernel ??= new ThreadedKernel();
      return kernel;
    },
    measured: (file, product = null) =>
      remember(`measured ${file} ${product}`, async () =>
        measureBodies(context.kernel, new SourcePart(file, await files.read(file), product)),
      ),
    meshes: (file) =>
      remember(`meshes ${file}`, async () => meshBodies(context.kernel, await files.read(file))),
    olderVersion: async (file, sha256) => {
      const content = await files.kept(sha256);
      return content && { scan: scanContent(file, content) };
    },
    inverseOf: (change) => files.planUndo(change),
    received: receivedFrom,
    unpacked: async (zip) => unpackInMemory(await zip.read()),
    scansOf: async (contents) =>
      new Map(contents.map(({ path: file, content }) => [file, scanContent(file, content!)])),
    remember,
  };
  try {
    await work(context, files);
  } finally {
    await kernel?.close();
  }
}

/** Any change in words: each file, each link, each warning. */
function tellChange({ change, dryRun, applied, json }: Told<unknown>): number {
  if (json) {
    printJson({ dryRun, applied, ...withoutContents(change) });
    return FINE;
  }
  for (const one of change.changes)
    printLine(
      one.action === 'move'
        ? `${dryRun ? 'would move' : 'moved'}  ${one.path} -> ${one.to}`
        : `${dryRun ? 'would ' : ''}${one.action}  ${one.path}`,
    );
  for (const { holder, written, rewritten } of change.rewires)
    printLine(`${dryRun ? 'would write' : 'wrote'}  ${holder}: ${written || '(a new link)'} -> ${rewritten}`);
  for (const warning of change.warnings) printLine(`note   ${warning}`);
  printLine(
    change.changes.length === 0
      ? 'There is nothing to change.'
      : `${change.summary}${dryRun ? ' (not done: dry run)' : ''}: ${plural(change.changes.length, 'file')}.`,
  );
  return FINE;
}

function withoutContents({ summary, changes, rewires, warnings }: ChangeSet) {
  const files = changes.map((change) => ({
    action: change.action,
    path: change.path,
    ...(change.action === 'move' && { to: change.to }),
  }));
  return { summary, files, rewires, warnings };
}

async function readText(file: string): Promise<string> {
  return readFile(path.resolve(file), 'utf8').catch(() => {
    throw new UsageError(`${file} cannot be read: is it there, and a file?`);
  });
}

/** "Point broken links at the right files." as commands describe themselves. */
function inCommandWords(purpose: string): string {
  return `${purpose[0]!.toLowerCase()}${purpose.slice(1).replace(/\.$/, '')}`;
}
