import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { measureBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import { splitChoices } from '#core/jobs/split/choices';
import { groupBodies, type SplitGroup } from '#core/jobs/split/groups';
import { FINE, UsageError } from './exit';
import { plural, printJson, printLine, printTable } from './output';

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

function cubic(value: number | null): string {
  return (value ?? 0).toLocaleString('en', { maximumFractionDigits: 1 });
}
