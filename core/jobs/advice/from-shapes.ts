import { someOf } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { findCongruent } from '#core/geometry/shape/congruence/congruence';
import type { ShapeFeatures } from '#core/geometry/shape/features';
import { type MeasuredBody, placedShape } from '#core/geometry/shape/placed-shape';
import type { MeasuredFiles } from '#core/jobs/measured-files';
import { diagonalOf } from '#core/product/box';
import { IDENTITY, type Matrix4 } from '#core/product/matrix';
import type { Product } from '#core/product/structure';
import { ownProducts } from '#core/project/scan/content';
import { isMadeForOutside, type Project, standsForOther } from '#core/project/scan/project';
import type { Finding } from './finding';

/** How far a measured size may be from the stated one, as a part of it: validation properties are given to a thousandth. */
const STATED_TOLERANCE = 2e-3;
/** So many diagonals from its origin a shape is far away, and at least so far, mm. */
const [FAR_DIAGONALS, FAR_LEAST] = [8, 500];

/** What only shows in the shapes: as far as they were measured. */
export function findingsFromShapes(project: Project, measured: MeasuredFiles['measured']): Finding[] {
  const found: Finding[] = [];
  const shapes: { path: string; product: Product; shape: ShapeFeatures }[] = [];
  for (const [path, bodies] of measured) {
    const scan = project.files.get(path)!.scan;
    for (const product of ownProducts(scan)) {
      found.push(...wrongVolumes(path, product, bodies), ...unlikeStated(path, product, bodies));
      found.push(...farAway(path, product, bodies));
      const [body, ...more] = product.bodies;
      const shape = body && more.length === 0 ? shapeOf(bodies.get(body.id)) : null;
      if (shape && !standsForOther(project, path) && !isMadeForOutside(project, path))
        shapes.push({ path, product, shape });
    }
  }
  return [...found, ...sameShapes(project, shapes)];
}

function shapeOf(body: MeasuredBody | undefined): ShapeFeatures | null {
  return body ? placedShape(body, IDENTITY) : null;
}

function wrongVolumes(path: string, product: Product, bodies: ReadonlyMap<number, MeasuredBody>): Finding[] {
  return product.bodies.flatMap(({ id, name, kind }) => {
    const facts = bodies.get(id)?.facts;
    if (!facts || kind !== 'solid') return [];
    const what = name || `body #${id}`;
    const trouble = facts.doubt ?? (facts.volume < 0 ? 'it is turned inside out' : null);
    if (trouble === null) return [];
    return [
      { kind: 'wrong-volume', files: [path], about: what, words: `${what} in ${path}: ${trouble}` } as const,
    ];
  });
}

function unlikeStated(path: string, product: Product, bodies: ReadonlyMap<number, MeasuredBody>): Finding[] {
  const { statedSize, bodies: own } = product;
  if (!statedSize || own.length === 0) return [];
  const facts = own.map(({ id }) => bodies.get(id)?.facts);
  if (facts.some((one) => one === undefined)) return [];
  return (['volume', 'area'] as const).flatMap((of) => {
    const stated = statedSize[of];
    if (stated === undefined) return [];
    const there = facts.reduce((sum, one) => sum + Math.abs(one![of]), 0);
    if (Math.abs(there - stated) <= STATED_TOLERANCE * Math.max(there, stated)) return [];
    const unit = of === 'volume' ? 'mm³' : 'mm²';
    const words = (value: number) => `${value.toLocaleString('en', { maximumSignificantDigits: 6 })} ${unit}`;
    return [
      {
        kind: 'unlike-stated',
        files: [path],
        about: `${product.name} ${of}`,
        words: `${product.name} in ${path} states a ${of} of ${words(stated)} and has ${words(there)}.`,
      } as const,
    ];
  });
}

function farAway(path: string, product: Product, bodies: ReadonlyMap<number, MeasuredBody>): Finding[] {
  const boxes = product.bodies.flatMap(({ id }): (readonly number[])[] => {
    const box = bodies.get(id)?.facts?.box;
    return box ? [box] : [];
  });
  if (boxes.length === 0 || product.occurrences.length > 0) return [];
  const all = boxes.reduce((a, b) =>
    a.map((value, n) => (n < 3 ? Math.min(value, b[n]!) : Math.max(value, b[n]!))),
  );
  const diagonal = diagonalOf(all as unknown as Parameters<typeof diagonalOf>[0]);
  // From the origin to the nearest point of the box.
  const away = Math.hypot(...[0, 1, 2].map((axis) => Math.max(all[axis]!, -all[axis + 3]!, 0)));
  if (away < FAR_LEAST || away < FAR_DIAGONALS * diagonal) return [];
  const millimetres = (value: number) => `${Math.round(value).toLocaleString('en')} mm`;
  return [
    {
      kind: 'far-away',
      files: [path],
      about: product.name,
      words: `${product.name} in ${path} is ${millimetres(diagonal)} large and lies ${millimetres(away)} from its origin.`,
    },
  ];
}

/** Parts of one body that are the same shape, in different files that do not know each other. */
function sameShapes(
  project: Project,
  shapes: readonly { path: string; product: Product; shape: ShapeFeatures }[],
): Finding[] {
  return findCongruent(shapes.map(({ shape }) => shape)).flatMap(({ members }) => {
    const parts = members.map(({ body, placement }) => ({ ...shapes[body]!, placement }));
    const paths = [...new Set(parts.map(({ path }) => path))].filter(
      (path, _, all) => !all.some((other) => isSourceOf(project, path, other)),
    );
    if (paths.length < 2) return [];
    const kept = parts.filter(
      ({ path }, n) => paths.includes(path) && parts.findIndex((part) => part.path === path) === n,
    );
    const ids = [...new Set(kept.map(({ product }) => product.id).filter((id) => id !== ''))];
    const names = kept.map(({ path }) => baseName(path));
    const under =
      ids.length > 1
        ? `, under the numbers ${ids.slice(0, 3).join(', ')}${ids.length > 3 ? ' and more' : ''}`
        : '';
    const moved = kept[1] ? motionInWords(kept[1].placement) : '';
    return [
      {
        kind: 'same-shape',
        files: paths,
        about: '',
        words: `${someOf(names, 3)} hold the same shape${moved}${under}.`,
      } as const,
    ];
  });
}

/** What splits and copies made of another file is known to be alike. */
function isSourceOf(project: Project, path: string, other: string): boolean {
  return (project.usedBy.get(path) ?? []).some(({ holder, source }) => source && holder === other);
}

function motionInWords(placement: Matrix4): string {
  const away = Math.hypot(placement[3]!, placement[7]!, placement[11]!);
  const turn =
    (Math.acos(Math.min(1, Math.max(-1, (placement[0]! + placement[5]! + placement[10]! - 1) / 2))) * 180) /
    Math.PI;
  const words = [
    ...(turn > 0.01 ? [`turned by ${turn.toFixed(turn % 1 < 0.01 ? 0 : 1)}°`] : []),
    ...(away > 0.001 ? [`moved by ${away.toLocaleString('en', { maximumFractionDigits: 2 })} mm`] : []),
  ];
  return words.length === 0 ? '' : `, ${words.join(' and ')}`;
}
