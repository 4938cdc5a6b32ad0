import { areParallel, axisOf, originOf } from '#core/geometry/fill/surfaces';
import type { PartWithOpenings } from '#core/geometry/reduce/filled-parts';
import type { Whole } from '#core/geometry/whole/whole';
import { append } from '#core/multimap';
import { diagonalOf, emptyBox, growBox } from '#core/product/box';
import { transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { distanceFromLine, dot, scale, subtract } from '#core/product/vector';

/** A round face of an occurrence as it stands. mm. */
export interface RoundFace {
  occurrence: number;
  at: Vector3;
  direction: Vector3;
  radius: number;
  /** The material lies outside. */
  isHole: boolean;
  /** Along the direction from the origin of the whole. */
  from: number;
  to: number;
}

/** A pin of one occurrence in a hole of another. */
export interface RoundContact {
  between: [number, number];
  at: Vector3;
  direction: Vector3;
  radius: number;
  /** How much smaller the pin is than its hole, mm; below 0 for a press fit or a thread. */
  clearance: number;
  /** mm². */
  area: number;
}

/** How far axes may be apart, mm; how loose and how tight a pin may be in its hole, as part of the radius, and mm more. */
const APART = 0.05;
const [LOOSE, MORE] = [0.03, 0.3];
/** A thread is drawn as a core hole that is smaller than its screw: by this part of the radius, and no more than this, mm. */
const [THREAD, THREAD_DEPTH] = [0.2, 1.5];
/** Part of the shorter of the two that they share. */
const OVERLAP = 0.5;

/** Finds pins in holes: opposite round faces on one axis, of about one radius, that overlap. Near linear: faces are sorted by their axes. */
export function roundContacts(
  whole: Whole,
  partOf: (file: string) => PartWithOpenings | undefined,
): RoundContact[] {
  const faces = roundFaces(whole, partOf);
  const size = Math.max(1, diagonalOf(whole.box));
  const cell = Math.max(0.5, size / 2000);
  const buckets = new Map<string, RoundFace[]>();
  const keysOf = ({ at, direction }: RoundFace): string[] => {
    const foot = subtract(at, scale(direction, dot(at, direction)));
    const around = direction.map((value) => Math.round(value * 50)).join(' ');
    const [x, y, z] = foot.map((value) => Math.floor(value / cell)) as [number, number, number];
    const keys: string[] = [];
    for (const dx of [0, 1])
      for (const dy of [0, 1]) for (const dz of [0, 1]) keys.push(`${around} ${x + dx} ${y + dy} ${z + dz}`);
    return keys;
  };
  for (const face of faces) if (face.isHole) for (const key of keysOf(face)) append(buckets, key, face);
  const found = new Map<string, RoundContact>();
  for (const pin of faces) {
    if (pin.isHole) continue;
    const near = new Set(keysOf(pin).flatMap((key) => buckets.get(key) ?? []));
    for (const hole of near) {
      if (hole.occurrence === pin.occurrence || !areParallel(hole.direction, pin.direction, 1e-4)) continue;
      if (distanceFromLine(pin.at, hole.at, hole.direction) > APART) continue;
      const clearance = hole.radius - pin.radius;
      if (clearance < -Math.min(THREAD * pin.radius, THREAD_DEPTH) || clearance > LOOSE * pin.radius + MORE)
        continue;
      const shared = Math.min(hole.to, pin.to) - Math.max(hole.from, pin.from);
      if (shared < OVERLAP * Math.min(hole.to - hole.from, pin.to - pin.from)) continue;
      const between: [number, number] = [hole.occurrence, pin.occurrence];
      const key = `${[...between].sort((a, b) => a - b).join(' ')} ${Math.round(hole.at[0])} ${hole.radius.toFixed(2)} ${Math.round(dot(hole.at, [0.3, 0.7, 0.5]) * 10)}`;
      const area = 2 * Math.PI * pin.radius * shared;
      const before = found.get(key);
      if (!before || before.area < area)
        found.set(key, {
          between,
          at: pin.at,
          direction: pin.direction,
          radius: pin.radius,
          clearance,
          area,
        });
    }
  }
  return [...found.values()];
}

/** Every cylinder of a whole, as it stands. */
export function roundFaces(
  whole: Whole,
  partOf: (file: string) => PartWithOpenings | undefined,
): RoundFace[] {
  const faces: RoundFace[] = [];
  for (const { occurrence, shape, placement } of whole.bodies) {
    const { file, body } = whole.shapes[shape]!;
    const known = partOf(file)?.bodies.get(body.id);
    if (!known) continue;
    for (const { surface, isSame, loops } of known.topology.faces) {
      if (surface.kind !== 'cylinder') continue;
      const direction = towardsPlus(turnDirection(placement, axisOf(surface.placement)));
      const at = transformPoint(placement, originOf(surface.placement));
      const along = loops.flatMap(({ points }) =>
        points.map((point) => dot(transformPoint(placement, point), direction)),
      );
      if (along.length === 0) continue;
      faces.push({
        occurrence,
        at,
        direction,
        radius: surface.radius,
        isHole: !isSame,
        from: Math.min(...along),
        to: Math.max(...along),
      });
    }
  }
  return faces;
}

/** Flat faces of two occurrences that lie against each other. */
export interface FlatContact {
  between: [number, number];
  /** Of the box in which they overlap, mm². */
  area: number;
}

interface FlatFace {
  occurrence: number;
  normal: Vector3;
  offset: number;
  box: number[];
}

/** Finds flat faces that lie against each other: opposite normals, one plane, boxes that overlap. */
export function flatContacts(
  whole: Whole,
  partOf: (file: string) => PartWithOpenings | undefined,
): FlatContact[] {
  const buckets = new Map<string, FlatFace[]>();
  const found = new Map<string, FlatContact>();
  for (const { occurrence, shape, placement } of whole.bodies) {
    const { file, body } = whole.shapes[shape]!;
    const known = partOf(file)?.bodies.get(body.id);
    for (const { surface, isSame, loops } of known?.topology.faces ?? []) {
      if (surface.kind !== 'plane') continue;
      const normal = scale(turnDirection(placement, surface.normal), isSame ? 1 : -1);
      const offset = dot(transformPoint(placement, surface.at), normal);
      const box = emptyBox();
      for (const { points } of loops)
        for (const point of points) growBox(box, transformPoint(placement, point));
      const face: FlatFace = { occurrence, normal, offset, box };
      for (const other of buckets.get(keyOfPlane(scale(normal, -1), -offset)) ?? []) {
        if (other.occurrence === occurrence || Math.abs(other.offset + offset) > APART) continue;
        const sides = [0, 1, 2].map(
          (axis) => Math.min(box[axis + 3]!, other.box[axis + 3]!) - Math.max(box[axis]!, other.box[axis]!),
        );
        if (sides.some((side) => side < -APART)) continue;
        const [, b, c] = sides.sort((x, y) => x - y) as [number, number, number];
        if (b < 0.5) continue;
        const between: [number, number] = [
          Math.min(occurrence, other.occurrence),
          Math.max(occurrence, other.occurrence),
        ];
        const key = between.join(' ');
        const before = found.get(key);
        if (before) before.area += b * c;
        else found.set(key, { between, area: b * c });
      }
      for (const step of [-0.5, 0.5]) {
        const key = keyOfPlane(normal, offset + step * APART);
        const list = buckets.get(key) ?? [];
        if (list.at(-1) !== face) list.push(face);
        buckets.set(key, list);
      }
    }
  }
  return [...found.values()];
}

function keyOfPlane(normal: Vector3, offset: number): string {
  return `${normal.map((value) => Math.round(value * 50) || 0).join(' ')} ${Math.round(offset / (2 * APART)) || 0}`;
}

/** Of a direction and its opposite always the same one. */
export function towardsPlus(direction: Vector3): Vector3 {
  const first = direction.find((value) => Math.abs(value) > 1e-6) ?? 1;
  return first < 0 ? scale(direction, -1) : direction;
}
