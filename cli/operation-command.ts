import { existsSync, statSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import type { CommandForm, Given, Outcome, Told } from '#core/command/form';
import { readText, slashed } from '#core/command/out-file';
import { plural } from '#core/command/words';
import { type Operation, planOperation } from '#core/operation';
import type { PlanContext } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { Refusal } from '#core/refusal';
import { BodiesOfFiles, LAZY_KERNEL } from './bodies-of-files';
import { FINDINGS, FINE } from './exit';
import { addFlags, choicesFrom, choicesIn, inCommandWords, ownFlag } from './flags';
import { printJson, printLines } from './output';
import { projectAround } from './reading';

/**
 * Adds the command of an operation: its flags come from its choices, what it prints from its change.
 * @param isAsked whether it is the one that is run; of others only the name is wanted
 */
export async function addOperationCommand<Choices extends object, Preview>(
  program: Command,
  operation: Operation<Choices, Preview>,
  isAsked: boolean,
  onDone: (code: number) => void,
): Promise<void> {
  const { name, purpose } = operation;
  const command = program.command(operation.command ?? name).description(inCommandWords(purpose));
  if (!isAsked) return;
  const form: CommandForm<Choices, Preview> = (await operation.form?.()) ?? {};
  // An operation on a file takes it as its choice `file`, in the project around it; others work in a folder.
  const isFile = ['file', 'body'].includes(operation.accepts.what);
  command.argument(form.argument ?? (isFile ? '<FILE>' : '<DIR>'));
  if (form.arguments) command.arguments(form.arguments);
  const ownFlags = [...(form.ownFlags ?? []), ...(isFile ? ['file'] : [])];
  const flags = addFlags(command, operation.choices, ownFlags);
  for (const flag of form.flags ?? []) command.addOption(ownFlag(flag));
  if (isFile) command.option('--root <DIR>', 'the folder that links may lead to');
  const isOut = form.flags?.some(({ flag }) => flag.startsWith('--out')) ?? false;
  if (isOut) command.option('--make-folders', 'make the folders of --out that are not there');
  command
    .option('--choices <FILE>', 'a JSON file with choices, for those that have no flag')
    .option('--dry-run', 'show what would change and change nothing')
    .option('--json', 'print JSON for programs')
    .action(async (argument: string, ...rest: unknown[]) => {
      // Commander adds the options and the command itself.
      const more = rest.slice(0, -2) as (string | string[])[];
      const given: Given = command.opts();
      const { choices: listed, dryRun = false, json = false } = given;
      if (isOut) requireFolderOf(given.out, given.makeFolders === true);
      if (typeof given.to === 'string') refuseFile(given.to);
      const isInside =
        isFile || (form.takesFile && statSync(argument, { throwIfNoEntry: false })?.isFile() === true);
      const project = isInside ? path.resolve(given.root ?? (await projectAround(argument))) : argument;
      const place = form.folder?.(given, project);
      const openFolder = () => {
        if (place !== undefined) return FolderFileSet.openToMake(place);
        return dryRun ? FolderFileSet.open(project) : FolderFileSet.openToChange(project);
      };
      const files = await openFolder();
      await inFolder(files, async (context) => {
        const asked = {
          ...(listed === undefined ? {} : choicesIn(await readText(listed), listed)),
          ...(isFile && { file: slashed(path.relative(files.root, path.resolve(argument))) }),
          ...choicesFrom(command, flags),
          ...form.choices?.(given, context, files.root, more, argument),
        };
        const planned = await planOperation(operation, context, asked);
        // Commands that can tell of a hindrance in their own way do.
        if (planned.hindrance !== undefined && !form.tellsHindrance) throw new Refusal(planned.hindrance);
        const applied = !dryRun && planned.change.changes.length > 0;
        if (applied && !(await form.apply?.(planned, given, files))) await files.apply(planned.change);
        const outcome = await (form.tell ?? tellChange)(
          { ...planned, context, files, dryRun, applied },
          given,
        );
        if (json) printJson(outcome.json);
        else printLines(outcome.lines);
        onDone(outcome.hasFindings ? FINDINGS : FINE);
      });
    });
}

/** A folder that is not there is mistyped more often than meant. @throws Refusal */
function requireFolderOf(out: unknown, mayBeMade: boolean): void {
  if (typeof out !== 'string' || mayBeMade) return;
  const folder = path.dirname(path.resolve(out));
  if (!existsSync(folder))
    throw new Refusal(`${out}: there is no folder ${folder}. Make it, or say --make-folders.`);
}

/** Before the work and not after it. @throws Refusal where a file stands in the place of a folder */
function refuseFile(folder: string): void {
  const there = statSync(path.resolve(folder), { throwIfNoEntry: false });
  if (there && !there.isDirectory())
    throw new Refusal(`${folder} is a file, and a folder is wanted there. Choose another name.`);
}

/** Works in a folder: scanned, and with a kernel where one is wanted. */
async function inFolder(files: FolderFileSet, work: (context: PlanContext) => Promise<void>): Promise<void> {
  const { planningOn } = await import('#core/planning');
  const { scanContent } = await import('#core/project/scan/content');
  const { scanFileSet } = await import('#core/project/scan/scan');
  const project = await scanFileSet(files);
  const bodies = new BodiesOfFiles(files);
  const context: PlanContext = {
    ...planningOn(project, files),
    signal: new AbortController().signal,
    kernel: LAZY_KERNEL,
    measured: (file, product) => bodies.measured(file, product),
    meshes: (file) => bodies.meshes(file),
    olderVersion: async (file, sha256) => {
      const content = await files.kept(sha256);
      return content && { scan: scanContent(file, content) };
    },
    inverseOf: (which) => files.planUndo(which),
    isUntouched: false,
    received: async (place) => (await import('./received')).receivedFrom(place),
    unpacked: async (zip) => {
      const { unpackInMemory } = await import('#core/project/change/unpack');
      return unpackInMemory(await zip.read());
    },
    scansOf: async (contents) =>
      new Map(contents.map(({ path: file, content }) => [file, scanContent(file, content!)])),
    remember: (key, make) => bodies.remember(key, make),
  };
  await work(context);
}

/** Any change in words: each file, each link, each warning. */
function tellChange({ change, dryRun, applied }: Told<unknown>): Outcome {
  const count = change.changes.length;
  return {
    json: { dryRun, applied, ...withoutContents(change) },
    lines: [
      ...change.changes.map((file) =>
        file.action === 'move'
          ? `${dryRun ? 'would move' : 'moved'}  ${file.path} -> ${file.to}`
          : `${dryRun ? 'would ' : ''}${file.action}  ${file.path}`,
      ),
      ...change.rewires.map(
        ({ holder, written, rewritten }) =>
          `${dryRun ? 'would write' : 'wrote'}  ${holder}: ${written || '(a new link)'} -> ${rewritten}`,
      ),
      ...change.warnings.map((warning) => `note   ${warning}`),
      count === 0
        ? 'There is nothing to change.'
        : `${change.summary}${dryRun ? ' (not done: dry run)' : ''}: ${plural(count, 'file')}.`,
    ],
  };
}

function withoutContents({ summary, changes, rewires, warnings }: ChangeSet) {
  const files = changes.map((change) => ({
    action: change.action,
    path: change.path,
    ...(change.action === 'move' && { to: change.to }),
  }));
  return { summary, files, rewires, warnings };
}
