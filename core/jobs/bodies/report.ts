import { z } from 'zod';
import { columns, plural } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { SourcePart } from '#core/geometry/bodies/source-part';
import type { BodyFacts } from '#core/geometry/shape/body';
import { ProductOfFile, splitChoices } from '#core/jobs/split/choices';
import { groupBodies, type SplitGroup } from '#core/jobs/split/groups';
import { report } from '#core/report';

export const BodiesChoices = z.object({
  file: z.string().min(1).max(4000).describe('the file that holds the bodies'),
  product: ProductOfFile,
});
export type BodiesChoices = z.infer<typeof BodiesChoices>;

/** A body, once however often it is placed. */
interface ListedBody {
  /** Its number in the file. */
  id: number;
  name: string;
  product: string;
  /** mm³; null, like all that the kernel finds out, for a body that it refused. */
  volume: number | null;
  /** mm² */
  area: number | null;
  /** mm */
  center: BodyFacts['centre'] | null;
  box: BodyFacts['box'] | null;
  boxTolerance: number | null;
  color: string | null;
  /** Numbers the distinct shapes from 1. */
  shape: number;
  /** Why the kernel refused it. */
  error: string | null;
  /** Why its figures are not to be trusted. */
  doubt: string | null;
}

interface Bodies {
  file: string;
  shapes: number;
  bodies: ListedBody[];
}

/** Every body of a file with its facts. */
export const BODIES = report<BodiesChoices, Bodies>({
  name: 'bodies',
  title: 'Bodies',
  purpose: 'List the bodies of a file with their facts.',
  place: 'structure',
  page: 'bodies',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly', 'part'], bodies: 1, isUnlisted: true },
  choices: BodiesChoices,
  cost: 'slow',
  argument: 'file',
  isOfOneFile: true,
  async look({ files, measured }, { file, product }) {
    const source = new SourcePart(file, await files.read(file), product);
    const known = await measured(file, product);
    const groups = groupBodies(source, splitChoices({ surfaces: true }), known);
    const shapeOf = numberOfShape(groups);
    const { productOf, isAssembly } = source.scope;
    const once = isAssembly
      ? [...new Map(source.bodies.map((body) => [body.id, body])).values()]
      : source.bodies;
    return {
      file: baseName(file),
      shapes: groups.length,
      bodies: once.map(({ id, name, colour }) => {
        const { facts, error } = known.get(id) ?? {};
        return {
          id,
          name,
          product: productOf.get(id)!.id || productOf.get(id)!.name,
          volume: facts?.volume ?? null,
          area: facts?.area ?? null,
          center: facts?.centre ?? null,
          box: facts?.box ?? null,
          boxTolerance: facts?.boxTolerance ?? null,
          color: colour,
          shape: shapeOf.get(id)!,
          error: error ?? null,
          doubt: facts?.doubt ?? null,
        };
      }),
    };
  },
  words: ({ bodies, shapes }) => [
    ...columns(
      bodies.map(({ id, name, volume, area, color, shape, error }) => [
        `#${id}`,
        name || '(no name)',
        error ?? `${cubic(volume)} mm³`,
        error ? '' : `${cubic(area)} mm²`,
        color ?? '',
        `shape ${shape}`,
      ]),
      [2, 3],
    ),
    ...bodies.flatMap(({ id, name, doubt }) => (doubt ? [`doubtful  ${name || `#${id}`}: ${doubt}`] : [])),
    '',
    `${plural(bodies.length, 'body', 'bodies')} of ${plural(shapes, 'shape')}.`,
  ],
  hasFindings: ({ bodies }) => bodies.some(({ error }) => error !== null),
  tables: ({ bodies }) => [
    {
      title: 'Bodies',
      columns: [
        { title: 'Body', kind: 'short' },
        { title: 'Name' },
        { title: 'Product' },
        { title: 'Volume (mm³)', kind: 'number' },
        { title: 'Area (mm²)', kind: 'number' },
        { title: 'Colour', kind: 'short' },
        { title: 'Shape', kind: 'number' },
        { title: 'Trouble' },
      ],
      rows: bodies.map(({ id, name, product, volume, area, color, shape, error, doubt }) => [
        `#${id}`,
        name,
        product,
        volume,
        area,
        color,
        shape,
        error ?? doubt,
      ]),
    },
  ],
});

function numberOfShape(groups: readonly SplitGroup[]): Map<number, number> {
  return new Map(groups.flatMap(({ members }, n) => members.map(({ body }) => [body.id, n + 1] as const)));
}

function cubic(value: number | null): string {
  return (value ?? 0).toLocaleString('en', { maximumFractionDigits: 1 });
}
