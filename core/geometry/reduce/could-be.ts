import { fillKindsOf } from '#core/geometry/fill/fill-kinds';
import { FILL_KINDS, type FillKind } from '#core/geometry/fill/opening-kinds';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import type { ReduceChoices } from './choices';
import { coarserInPart, type Reckoned } from './coarser-bodies';
import { bodiesLeft } from './decide';
import type { ReducedWhole } from './reduced-whole';
import { roundableFaces, toothingOf } from './rounded-bodies';

/** What could be filled and made coarser in the bodies that stay, as often as they are placed. */
export interface CouldBe {
  /** How many there are of each kind, and faces that go with them. */
  fill: { kind: FillKind; count: number; faces: number }[];
  /** Faces that would go: with rings, with rounds and bevels, with others that they lie in one surface with. */
  rings: number;
  edges: number;
  joined: number;
}

/** Counts what the choices could take away, chosen or not. Linear in faces; remembered by content. */
export async function couldBe(
  context: PlanContext,
  { whole, decision, openings }: Pick<ReducedWhole, 'whole' | 'decision' | 'openings'>,
  { sharpEdges, fillBelow, engraved, keepFaces }: ReduceChoices,
): Promise<CouldBe> {
  const staying = bodiesLeft(decision);
  const byKind = new Map<FillKind, { count: number; faces: number }>();
  const add = (kind: FillKind, count: number, faces: number) => {
    const known = byKind.get(kind) ?? { count: 0, faces: 0 };
    byKind.set(kind, { count: known.count + count, faces: known.faces + faces });
  };
  const result: CouldBe = { fill: [], rings: 0, edges: 0, joined: 0 };
  const coarser = new Map<string, Map<number, Reckoned>>();
  for (const [path, part] of openings)
    coarser.set(path, await coarserInPart(context, part, { edges: sharpEdges, slots: fillBelow ?? 'all' }));
  for (const [shape, { length }] of groupBy(staying, (n) => whole.bodies[n]!.shape)) {
    const { file, body } = whole.shapes[shape]!;
    const own = openings.get(file)?.bodies.get(body.id);
    if (!own) continue;
    for (const [opening, kinds] of fillKindsOf(own.topology, own.openings, engraved))
      if (fillBelow === null || opening.mouth <= fillBelow)
        for (const kind of kinds) add(kind, length, length * opening.faces.length);
    const reckoned = coarser.get(file)?.get(body.id);
    if (!reckoned) continue;
    add('slot', length * reckoned.slots, length * reckoned.slotFaces);
    result.edges += length * reckoned.edges;
    result.joined += length * reckoned.joined;
  }
  result.fill = FILL_KINDS.map((kind) => ({ kind, ...(byKind.get(kind) ?? { count: 0, faces: 0 }) }));
  const kept = new Set(keepFaces.map(({ file }) => file));
  const free = new Map([...openings].filter(([path]) => !kept.has(path)));
  result.rings = roundableFaces(whole, staying, await toothingOf(context, free));
  return result;
}
