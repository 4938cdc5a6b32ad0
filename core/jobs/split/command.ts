import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { slashed } from '#core/command/out-file';
import { columns, plural } from '#core/command/words';
import type { Kernel } from '#core/geometry/shape/kernel';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import {
  compareSums,
  measureWith,
  type SplitCheck,
  sumOfAssembly,
  sumOfBodies,
} from '#core/jobs/split/check';
import type { SplitFileChoices } from '#core/jobs/split/choices';
import { ORIGINS } from '#core/jobs/split/choices';
import { bodiesIn, type SplitGroup } from '#core/jobs/split/groups';
import type { SplitOutline } from '#core/jobs/split/plan';
import type { FolderFileSet } from '#core/project/change/folder/folder';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';

/** `split FILE`: the folder of the new files as a folder of this system, and one line a body. */
export const SPLIT_FORM: CommandForm<SplitFileChoices, SplitOutline> = {
  ownFlags: ['folder', 'naming', 'origin', 'bodies', 'use', 'rest'],
  flags: [
    { flag: '--to <DIR>', words: 'folder of the new files' },
    {
      flag: '--names <FROM>',
      words: 'where names come from; body, unless it is said',
      oneOf: ['body', 'number'],
    },
    {
      flag: '--origin <WHERE>',
      words: 'source (unless it is said) or body (or centre, corner, centroid, axis)',
      read: origin,
    },
    { flag: '--check', words: 'measure the result, and hold it against the source' },
  ],
  folder: ({ to }, project) => (to === undefined ? project : commonFolder(project, path.resolve(to))),
  choices: ({ to, names, pattern, origin: where }, _, root) => ({
    ...(to !== undefined && { folder: slashed(path.relative(root, path.resolve(to))) }),
    ...((names ?? pattern) !== undefined && { naming: pattern === undefined ? names : 'number' }),
    ...(where !== undefined && { origin: where }),
  }),
  async tell({ change, preview: outline, context, files, dryRun }, { check: isChecked }) {
    const { source } = outline;
    const facts = await context.measured(source.path, source.scope.wanted);
    const check = isChecked && !dryRun ? await checkResult(context.kernel, files, outline, facts) : null;
    const inFile = change.changes.length === 1;
    const place = (inRoot: string) => slashed(path.relative(process.cwd(), path.join(files.root, inRoot)));
    const fileOf = (component: { file: string }) => place(inFile ? outline.assembly : component.file);
    const json = {
      source: place(source.path),
      applied: !dryRun,
      assembly: place(outline.assembly),
      components: outline.components.length,
      bodies: bodyRows(outline.components, facts, fileOf),
      warnings: change.warnings,
      ...(check ? { check } : {}),
    };
    const lines: string[] = [];
    lines.push(
      ...columns(
        outline.components.map((component) => [
          component.name,
          `${component.group.members.length} x`,
          component.group.mirrorOf === null
            ? ''
            : `mirror of ${outline.components[component.group.mirrorOf]!.name}`,
          fileOf(component),
        ]),
        [1],
      ),
    );
    lines.push('');
    for (const warning of change.warnings) lines.push(`note   ${warning}`);
    lines.push(`${change.summary}${dryRun ? ' (not done: dry run)' : ''}.`);
    lines.push(`Assembly: ${place(outline.assembly)}`);
    if (check)
      lines.push(
        `Check: ${check.isSame ? 'the same' : 'NOT the same'}. ${plural(check.after.bodies, 'body', 'bodies')} of ${check.before.bodies}, volume off by ${check.volumeOff.toExponential(1)}, centre by ${check.centreOff.toExponential(1)} mm, box by ${check.boxOff.toExponential(1)} mm.`,
      );
    return { json, lines, hasFindings: check?.isSame === false };
  },
};

/** Measures what was written, from the files, and holds it against the source. */
async function checkResult(
  kernel: Kernel,
  files: FolderFileSet,
  outline: SplitOutline,
  facts: ReadonlyMap<number, MeasuredBody>,
): Promise<SplitCheck> {
  const bodies = outline.components.flatMap(({ group }) => bodiesIn(group));
  const measure = measureWith(kernel, files);
  const after = await sumOfAssembly(measure, await scanFileSet(files), outline.assembly);
  return compareSums(sumOfBodies(bodies, facts), after!);
}

function origin(text: string): string {
  if (text === 'body') return 'centre';
  if (!ORIGINS.some((known) => known === text))
    throw new Refusal(`It is source, body, ${ORIGINS.slice(1).join(', ')}.`);
  return text;
}

/** One line a body, in the order of the source. */
function bodyRows(
  components: readonly { name: string; file: string; group: SplitGroup }[],
  facts: ReadonlyMap<number, MeasuredBody>,
  fileOf: (component: { file: string }) => string,
) {
  return components
    .flatMap((component, n) =>
      bodiesIn(component.group).map((body) => ({
        body: body.id,
        name: component.name,
        file: fileOf(component),
        shape: n + 1,
        instances: component.group.members.length,
        volume: facts.get(body.id)?.facts?.volume ?? null,
        mirrorOf: component.group.mirrorOf === null ? null : component.group.mirrorOf + 1,
      })),
    )
    .sort((a, b) => a.body - b.body);
}

/** The smallest folder that holds both; the file system's own top is no place to work in. */
function commonFolder(a: string, b: string): string {
  let folder = a;
  while (b !== folder && !b.startsWith(folder + path.sep)) {
    folder = path.dirname(folder);
    if (folder === path.dirname(folder))
      throw new Refusal(`${b} has no folder in common with ${a}: links between them would be absolute.`);
  }
  return folder;
}
