import { areParallel } from '#core/geometry/fill/surfaces';
import type { PartWithOpenings } from '#core/geometry/reduce/filled-parts';
import { boxOfBodies, type Whole } from '#core/geometry/whole/whole';
import { groupBy } from '#core/multimap';
import { middleOf, sidesOf } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { distanceFromLine, dot } from '#core/product/vector';
import { type RoundContact, type RoundFace, roundFaces } from './contacts';

/** How far axes may be apart, mm. */
const APART = 0.05;
/** So many bodies of one shape roll between two rings at least. */
const FEWEST = 3;
/** How large a rolling body is, as part of the gap between the rings: balls run in grooves, and reach beyond it. */
const [LEAST, MOST] = [0.5, 4];

/** A part that may roll. */
interface Roller {
  occurrence: number;
  middle: Vector3;
  /** Its smallest side, mm. */
  size: number;
}

/**
 * Finds rings that turn on each other with bodies rolling between them: a hole and a pin on one axis, and in the gap between them at least
 * three bodies of one shape that sit fast in neither.
 * @param round pins in holes: what is one does not roll
 */
export function rollingContacts(
  whole: Whole,
  partOf: (file: string) => PartWithOpenings | undefined,
  round: readonly RoundContact[],
): RoundContact[] {
  const held = new Set(round.flatMap(({ between: [a, b] }) => [`${a} ${b}`, `${b} ${a}`]));
  const rows = [...groupBy(rollersOf(whole), ({ occurrence }) => partKey(whole, occurrence)).values()].filter(
    (row) => row.length >= FEWEST,
  );
  if (rows.length === 0) return [];
  const faces = roundFaces(whole, partOf);
  const gaps = gapsIn(faces);
  const found: RoundContact[] = [];
  for (const row of rows) {
    let left = row;
    // The narrowest gap that they stand in is the one that they roll in; others of the part may roll elsewhere.
    for (const { hole, pin, gap, shared } of gaps) {
      const own = left.filter((roller) => rolls(roller, hole, pin, held));
      if (own.length < FEWEST) continue;
      left = left.filter((roller) => !own.includes(roller));
      found.push({
        between: [hole.occurrence, pin.occurrence],
        at: pin.at,
        direction: pin.direction,
        radius: pin.radius,
        clearance: gap,
        area: 2 * Math.PI * pin.radius * shared,
      });
    }
  }
  return found;
}

/** Room between a hole of one part and a pin of another on one axis. */
interface Gap {
  hole: RoundFace;
  pin: RoundFace;
  /** mm. */
  gap: number;
  /** Along the axis, mm. */
  shared: number;
}

/** All of them, the narrowest first. */
function gapsIn(faces: readonly RoundFace[]): Gap[] {
  const pins = faces.filter(({ isHole }) => !isHole);
  return faces
    .flatMap((hole): Gap[] =>
      !hole.isHole
        ? []
        : pins.flatMap((pin) => {
            const gap = hole.radius - pin.radius;
            if (pin.occurrence === hole.occurrence || gap <= 0) return [];
            if (!areParallel(hole.direction, pin.direction, 1e-4)) return [];
            if (distanceFromLine(pin.at, hole.at, hole.direction) > APART) return [];
            const shared = Math.min(hole.to, pin.to) - Math.max(hole.from, pin.from);
            return shared > 0 ? [{ hole, pin, gap, shared }] : [];
          }),
    )
    .sort((one, other) => one.gap - other.gap);
}

function rollersOf(whole: Whole): Roller[] {
  return whole.occurrences.map(({ bodies }, occurrence) => {
    const box = boxOfBodies(whole, bodies);
    return { occurrence, middle: middleOf(box), size: Math.min(...sidesOf(box)) };
  });
}

function partKey({ occurrences }: Whole, n: number): string {
  const { path, product } = occurrences[n]!.place;
  return `${path} ${product.definition}`;
}

/** Whether a body lies in the gap between a hole and a pin, and is held by neither. */
function rolls(
  { occurrence, middle, size }: Roller,
  hole: RoundFace,
  pin: RoundFace,
  held: ReadonlySet<string>,
): boolean {
  if (occurrence === hole.occurrence || occurrence === pin.occurrence) return false;
  if (held.has(`${occurrence} ${hole.occurrence}`) || held.has(`${occurrence} ${pin.occurrence}`))
    return false;
  const gap = hole.radius - pin.radius;
  const away = distanceFromLine(middle, hole.at, hole.direction);
  const along = dot(middle, hole.direction);
  return (
    size >= LEAST * gap &&
    size <= MOST * gap &&
    away > pin.radius &&
    away < hole.radius &&
    along > Math.max(hole.from, pin.from) - size &&
    along < Math.min(hole.to, pin.to) + size
  );
}
