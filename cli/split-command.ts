import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { FolderFileSet } from '#core/change/folder';
import { findProjectRoot } from '#core/handoff/project-root';
import { planningOn } from '#core/operation';
import { scanFileSet } from '#core/scan/scan';
import { ThreadedKernel } from '#core/shape/threaded-kernel';
import { compareSums, measureWith, type SplitCheck, sumOfAssembly, sumOfBodies } from '#core/split/check';
import { type Origin, type SplitChoices, splitChoices } from '#core/split/choices';
import { bodiesIn, groupBodies, type SplitGroup } from '#core/split/groups';
import { measureBodies } from '#core/split/measure';
import type { MeasuredBody } from '#core/split/placed-shape';
import { outlineSplit, planSplit, type SplitOutline } from '#core/split/plan';
import { SourcePart } from '#core/split/source-part';
import { FINDINGS, FINE, UsageError } from './exit';
import { plural, printJson, printLine, printTable } from './output';

interface SplitOptions {
  product?: string;
  to?: string;
  root?: string;
  merge: boolean;
  names: SplitChoices['naming'];
  pattern?: string;
  origin: Origin;
  inFile?: boolean;
  tie: boolean;
  check?: boolean;
  dryRun?: boolean;
  json?: boolean;
}

/** Reads a file, or one of its products, and has the kernel measure its bodies. */
async function measured(bytes: Uint8Array, name: string, product: string | undefined) {
  const source = new SourcePart(name, bytes, product ?? null);
  const kernel = new ThreadedKernel();
  try {
    return { source, facts: await measureBodies(kernel, source) };
  } finally {
    await kernel.close();
  }
}

/** Every body of a file with its facts, once however often it is placed. `shape` numbers the distinct shapes from 1. */
export async function bodiesCommand(
  file: string,
  options: { json?: boolean; product?: string },
): Promise<number> {
  const { source, facts } = await measured(await readInput(file), path.basename(file), options.product);
  const groups = groupBodies(source, splitChoices({ surfaces: true }), facts);
  const shapeOf = numberOfShape(groups);
  const { productOf, isAssembly } = source.scope;
  const once = isAssembly
    ? [...new Map(source.bodies.map((body) => [body.id, body])).values()]
    : source.bodies;
  const rows = once.map(({ id, name, colour }) => {
    const known = facts.get(id)?.facts;
    return {
      id,
      name,
      product: productOf.get(id)!.id || productOf.get(id)!.name,
      volume: known?.volume ?? null,
      area: known?.area ?? null,
      center: known?.centre ?? null,
      box: known?.box ?? null,
      boxTolerance: known?.boxTolerance ?? null,
      color: colour,
      shape: shapeOf.get(id)!,
      error: facts.get(id)?.error ?? null,
      doubt: known?.doubt ?? null,
    };
  });
  if (options.json) printJson({ file: path.basename(file), shapes: groups.length, bodies: rows });
  else {
    printTable(
      rows.map(({ id, name, volume, area, color, shape, error }) => [
        `#${id}`,
        name || '(no name)',
        error ?? `${cubic(volume)} mm³`,
        error ? '' : `${cubic(area)} mm²`,
        color ?? '',
        `shape ${shape}`,
      ]),
      [2, 3],
    );
    for (const { id, name, doubt } of rows) if (doubt) printLine(`doubtful  ${name || `#${id}`}: ${doubt}`);
    printLine();
    printLine(`${plural(rows.length, 'body', 'bodies')} of ${plural(groups.length, 'shape')}.`);
  }
  return FINE;
}

/** Splits a part of many bodies into component files and an assembly. */
export async function splitCommand(file: string, options: SplitOptions): Promise<number> {
  // 1. The file set: the project around the file, wide enough for the target folder.
  const full = path.resolve(file);
  const bytes = await readInput(file);
  const target = options.to === undefined ? undefined : path.resolve(options.to);
  const home = path.resolve(options.root ?? (await findProjectRoot(file)));
  const root = target === undefined ? home : commonFolder(home, target);
  const files = await FolderFileSet.open(root);
  const inside = slashed(path.relative(root, full));
  const { source, facts } = await measured(bytes, inside, options.product);

  // 2. The plan.
  const project = await scanFileSet(files);
  const choices = splitChoices({
    folder: target === undefined ? null : slashed(path.relative(root, target)),
    product: options.product ?? null,
    merge: options.merge,
    naming: options.names,
    ...(options.pattern === undefined ? {} : { pattern: options.pattern, naming: 'number' as const }),
    origin: options.origin,
    inFile: options.inFile ?? false,
    tie: options.tie,
  });
  const outline = outlineSplit(project, source, choices, facts);
  const changes = await planSplit(planningOn(project, files), { outline, choices });
  if (!options.dryRun) await files.apply(changes);
  const check = options.check && !options.dryRun ? await checkResult(files, outline, facts) : null;

  // 3. What was done.
  const place = (inRoot: string) => slashed(path.relative(process.cwd(), path.join(root, inRoot)));
  const fileOf = (component: { file: string }) => place(choices.inFile ? outline.assembly : component.file);
  if (options.json) {
    printJson({
      source: place(inside),
      applied: !options.dryRun,
      assembly: place(outline.assembly),
      components: outline.components.length,
      bodies: bodyRows(outline.components, facts, fileOf),
      warnings: changes.warnings,
      ...(check ? { check } : {}),
    });
  } else {
    printTable(
      outline.components.map((component) => [
        component.name,
        `${component.group.members.length} x`,
        component.group.mirrorOf === null
          ? ''
          : `mirror of ${outline.components[component.group.mirrorOf]!.name}`,
        fileOf(component),
      ]),
      [1],
    );
    printLine();
    for (const warning of changes.warnings) printLine(`note   ${warning}`);
    printLine(`${changes.summary}${options.dryRun ? ' (not done: dry run)' : ''}.`);
    printLine(`Assembly: ${place(outline.assembly)}`);
    if (check)
      printLine(
        `Check: ${check.isSame ? 'the same' : 'NOT the same'}. ${plural(check.after.bodies, 'body', 'bodies')} of ${check.before.bodies}, volume off by ${check.volumeOff.toExponential(1)}, centre by ${check.centreOff.toExponential(1)} mm, box by ${check.boxOff.toExponential(1)} mm.`,
      );
  }
  return check?.isSame === false ? FINDINGS : FINE;
}

/** Measures what was written, from the files, and holds it against the source. */
async function checkResult(
  files: FolderFileSet,
  outline: SplitOutline,
  facts: ReadonlyMap<number, MeasuredBody>,
): Promise<SplitCheck> {
  const kernel = new ThreadedKernel();
  try {
    const bodies = outline.components.flatMap(({ group }) => bodiesIn(group));
    const measure = measureWith(kernel, files);
    const after = await sumOfAssembly(measure, await scanFileSet(files), outline.assembly);
    return compareSums(sumOfBodies(bodies, facts), after!);
  } finally {
    await kernel.close();
  }
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

function numberOfShape(groups: readonly SplitGroup[]): Map<number, number> {
  return new Map(groups.flatMap(({ members }, n) => members.map(({ body }) => [body.id, n + 1] as const)));
}

async function readInput(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file);
  } catch {
    throw new UsageError(`${file} cannot be read: is it there, and a file?`);
  }
}

/** The smallest folder that holds both; the file system's own top is no place to work in. */
function commonFolder(a: string, b: string): string {
  let folder = a;
  while (b !== folder && !b.startsWith(folder + path.sep)) {
    folder = path.dirname(folder);
    if (folder === path.dirname(folder))
      throw new UsageError(`${b} has no folder in common with ${a}: links between them would be absolute.`);
  }
  return folder;
}

function slashed(relative: string): string {
  return relative.split(path.sep).join('/');
}

function cubic(value: number | null): string {
  return (value ?? 0).toLocaleString('en', { maximumFractionDigits: 1 });
}
