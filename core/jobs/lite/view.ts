import type { ReachClass } from '#core/geometry/reach/classes';
import type { Forgettable } from '#core/geometry/reduce/choices';
import type { CouldBe } from '#core/geometry/reduce/could-be';
import type { Reason } from '#core/geometry/reduce/decide';
import { type MountingFace, proposeMounting } from '#core/geometry/reduce/mounting';
import type { ReductionReport } from '#core/geometry/reduce/report';
import type { SceneBody } from '#core/geometry/scene';
import { packGltf } from '#core/geometry/shape/gltf';
import { faceCount } from '#core/geometry/shape/solid-mesh';
import { meshOfBody } from '#core/geometry/whole/whole';
import type { PreviewHome } from '#core/planned';
import type { FoundWithin } from './budget';
import type { LiteOutline } from './plan';
import type { StepSaving } from './savings';

/** A component of the whole, as the page lists it. */
export interface LiteComponent {
  key: string;
  name: string;
  file: string;
  material: string | null;
  /** Diagonal of its box in percent of the whole's. */
  percent: number;
  reach: ReachClass;
  /** Part of the pictures from all around that shows it. */
  share: number;
  /** From where most of it is seen, in words. */
  from: string | null;
  reason: Reason | null;
  isProtected: boolean;
  faces: number;
  /** Rows of its bodies on the stage. */
  rows: number[];
}

/** What a lite model would be, as plain data. */
export interface LitePreview {
  file: string;
  gap: number;
  report: ReductionReport;
  steps: StepSaving[];
  /** What could be filled and made coarser. */
  could: CouldBe;
  components: LiteComponent[];
  /** By row: why the body is left out, null where it stays. */
  fates: (Reason | null)[];
  /** By row: the faces of the body, as numbers in its file, in the order of the picture. */
  faces: { file: string; ids: number[] }[];
  /** Which faces a row has: position in `faces`; -1 where they are not known. */
  facesOf: number[];
  /** Bodies that look different after filling and cutting off, by row. */
  filled: { row: number; body: SceneBody }[];
  mounting: MountingFace[];
  odd: { file: string; body: number; why: string }[];
  /** What was forgotten. */
  forgotten: Forgettable[];
  /** What was found for a budget. */
  found: FoundWithin | null;
}

/** The plan of a lite model for its page, with the pictures of bodies that were filled. */
export async function litePreview(outline: LiteOutline, home: PreviewHome): Promise<LitePreview> {
  const { whole, decision, reach, reachLeft, report, steps, could, file, gap, odd, openings } = outline;
  const facesByShape = whole.shapes.map(({ file: path, body }) => {
    const known = openings.get(path)?.bodies.get(body.id);
    return known ? { file: path, ids: known.topology.faces.map(({ id }) => id) } : null;
  });
  const faces = facesByShape.filter((shape) => shape !== null);
  const placeOf = facesByShape.map((shape) => (shape ? faces.indexOf(shape) : -1));
  return {
    file,
    gap,
    report,
    steps,
    could,
    components: whole.occurrences.map((occurrence, n): LiteComponent => {
      const { reason, percent, isProtected } = decision.components[n]!;
      const own = occurrence.bodies.map((row) => reachLeft.bodies[row]!);
      const best = own.reduce((most, shape) => (shape.share > most.share ? shape : most), own[0]!);
      const reached = own.some((shape) => shape.class === 'reached');
      return {
        key: occurrence.key,
        name: occurrence.name,
        file: occurrence.place.path,
        material: occurrence.place.product.material ?? null,
        percent,
        reach: reached ? 'reached' : own.some((shape) => shape.class === 'seen') ? 'seen' : 'neither',
        share: own.reduce((sum, { share }) => sum + share, 0),
        from: best.from && directionInWords(best.from),
        reason: reason ?? commonReason(occurrence.bodies.map((row) => decision.bodies[row]!)),
        isProtected,
        faces: occurrence.bodies.reduce((sum, row) => sum + faceCount(meshOfBody(whole, row)), 0),
        rows: occurrence.bodies,
      };
    }),
    fates: decision.bodies,
    faces,
    facesOf: whole.bodies.map(({ shape }) => placeOf[shape]!),
    filled: await filledScene(outline, home),
    mounting: proposeMounting(whole, reach, (path) => openings.get(path)),
    odd,
    forgotten: [...outline.forgotten],
    found: outline.found,
  };
}

function commonReason(reasons: readonly (Reason | null)[]): Reason | null {
  const [first] = reasons;
  return reasons.every((shape) => shape !== null) ? first! : null;
}

async function filledScene(
  { whole, filled, decision, remade }: LiteOutline,
  home: PreviewHome,
): Promise<LitePreview['filled']> {
  const urls = new Map<string, string>();
  for (const [path, part] of filled) {
    if (part.bodies.size === 0) continue;
    const shapes = [...part.bodies.values()].map(({ shape }) => shape);
    urls.set(path, await home.keepPicture(await packGltf(shapes)));
  }
  const cut = [...new Set(remade.values())];
  const cutUrl =
    cut.length === 0
      ? ''
      : await home.keepPicture(await packGltf(cut.map(({ mesh }, body) => ({ body, mesh }))));
  return whole.bodies.flatMap(({ shape }, row) => {
    if (decision.bodies[row] !== null) return [];
    const { file, body } = whole.shapes[shape]!;
    const own = remade.get(row);
    if (own) return [{ row, body: { url: cutUrl, node: String(cut.indexOf(own)), colour: body.colour } }];
    const url = urls.get(file);
    if (!url || !filled.get(file)!.bodies.has(body.id)) return [];
    return [{ row, body: { url, node: String(body.id), colour: body.colour } }];
  });
}

const WORDS: readonly [words: string, axis: 0 | 1 | 2, sign: 1 | -1][] = [
  ['right', 0, 1],
  ['left', 0, -1],
  ['back', 1, 1],
  ['front', 1, -1],
  ['above', 2, 1],
  ['below', 2, -1],
];

/** `front, above` for a direction towards the eye. */
function directionInWords(towards: readonly [number, number, number]): string {
  return WORDS.flatMap(([words, axis, sign]) => (towards[axis] * sign > 0.45 ? [words] : [])).join(', ');
}
