import { stemOf } from '#core/files/links/paths';
import type { Part21File } from '#core/files/part21/file';
import type { Topology } from '#core/geometry/fill/topology';
import { commentsIn, type Leak, stringsIn } from '#core/geometry/leaks/leaks';
import type { FaceTrace, KeptFace } from '#core/geometry/reduce/choices';
import type { Deviation } from '#core/geometry/reduce/deviation';
import { likeness, traceOf } from '#core/geometry/reduce/face-trace';
import type { Removed } from '#core/geometry/reduce/removed';
import type { Amounts, KeptFaceReport } from '#core/geometry/reduce/report';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { Whole } from '#core/geometry/whole/whole';
import type { Box } from '#core/product/box';
import type { MadeReport } from '#core/product/source/made-report';

import type { SealedWay } from './choices';

/** What stands for it that a sealed solid is one. */
export interface SealReport {
  way: SealedWay;
  /** Of facets: how far off they may lie, mm; faces that stay a tenth of it. Of an envelope: how far it may stand off. */
  within: number | null;
  /** Of many facets: how far they would have to lie off so that there are few enough for others to read quickly, mm. */
  lighterWithin: number | null;
  before: Amounts;
  after: Amounts;
  box: { before: Box; after: Box };
  volume: { before: number; after: number };
  /** Solids in the file; one, unless bodies that touch nothing were kept. */
  solids: number;
  outerShells: number;
  innerShells: number;
  /** Every edge has two faces, which go round it opposite ways. */
  isClosed: boolean;
  /** The kernel's check, or the library's for facets: valid, oriented, no self-intersection found. */
  isValid: boolean;
  /** Hollows that nothing led to, and that are filled. */
  hollows: number;
  pins: number;
  kept: KeptFaceReport[];
  deviation: Deviation;
  /** Filled part of sections across x, y and z through the middle: of all that their outlines hold. */
  sections: [x: number, y: number, z: number];
  /** Names of the original that the file still holds. */
  names: string[];
  /** What can still be told from the file. */
  leaks: Leak[];
  /** What was left out and filled on the way. */
  removed: Removed;
  /** Bodies that touch nothing: by the names of their components. */
  loose: { names: string[]; volume: number }[];
  /** Why the exact way was not gone, where it was tried. */
  refused: string | null;
}

/** What of the proof goes along with the tie to the file. */
export function solidIn({
  way,
  isValid,
  isClosed,
  solids,
  outerShells,
  innerShells,
  sections,
}: SealReport): MadeReport['solid'] {
  const isOne = solids === 1 && outerShells === 1 && innerShells === 0;
  return { way, isProved: isValid && isClosed && isOne, filled: Math.min(...sections) };
}

/** Another reader needs a millisecond for each facet, and more than so many are no light model. */
const FEW_FACETS = 3000;

/**
 * How far facets would have to lie off so that there are few of them: of round surfaces there are as many as they lie closer.
 * @returns mm, rounded up to two digits; null where they are few already
 */
export function lighterWithin(facets: number, within: number): number | null {
  if (facets <= FEW_FACETS) return null;
  const wanted = (within * facets) / FEW_FACETS;
  const step = 10 ** (Math.floor(Math.log10(wanted)) - 1);
  return Number((Math.ceil(wanted / step) * step).toPrecision(2));
}

/** Names shorter than this are found in any file. */
const SHORTEST = 4;

/** Everything by which the original calls its parts. */
export function namesOf(whole: Whole): Set<string> {
  const names = new Set<string>();
  for (const { name, place } of whole.occurrences)
    for (const word of [name, place.product.name, place.product.id, stemOf(place.path)])
      names.add(word.trim());
  for (const { body } of whole.shapes) names.add(body.name.trim());
  for (const word of [whole.top.name, whole.top.id]) names.add(word.trim());
  return new Set([...names].filter((word) => word.length >= SHORTEST));
}

/** Names that a file holds in its strings and comments: keywords are the standard's, whatever a part is called. @param own what the file may be called */
export function namesIn(file: Part21File, names: ReadonlySet<string>, own: string): string[] {
  const strings = [...stringsIn(file)].filter((text) => text !== '' && !text.startsWith(own));
  const text = [...strings, ...commentsIn(file)].join('\n').toLowerCase();
  return [...names].filter((name) => {
    const wanted = name.toLowerCase();
    return text.includes(wanted) && !own.toLowerCase().includes(wanted);
  });
}

/** A face counts as kept when one of the result is like it to this part. */
const SAME = 0.999;

/** Kept faces, held against those of the result: the same surface, with the same outline, to seven digits of its area. */
export function keptInSolid(
  kept: readonly { face: KeptFace; places: readonly FaceTrace[] }[],
  topology: Topology,
  mesh: GeometryOfBody,
): KeptFaceReport[] {
  const traces = topology.faces.map((_, n) => traceOf(topology, n, mesh));
  return kept.map(({ face: { file, face, name }, places }) => ({
    file,
    face,
    name,
    identical: places.every((trace) => traces.some((other) => likeness(trace, other) > SAME)),
  }));
}
