import { makeCylinder, type Shape3D } from 'replicad';
import { IDENTITY, type Matrix4, placementFromAxes } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import { MemoryFileSet } from '#core/project/change/memory';
import { boxAt, stepOfShapes } from './step-of-shape';

/** A part of an assembly that is made for a test. */
export interface MadePart {
  name: string;
  bodies: readonly Shape3D[];
  /** Where it stands; at the origin unless it is said. */
  places?: readonly Matrix4[];
  /** Of length in its file. */
  unit?: 'MM' | 'INCH' | 'M';
}

/** Parts in files of their own, and `top.stp` that places them. */
export async function madeAssembly(parts: readonly MadePart[]): Promise<MemoryFileSet> {
  const fileOf = ({ name }: MadePart) => `${name.toLowerCase().replaceAll(' ', '-')}.stp`;
  const contents = await Promise.all(
    parts.map(
      async (part) => [fileOf(part), await stepOfShapes(part.bodies, part.unit)] as [string, Uint8Array],
    ),
  );
  const top = writeAssembly({
    id: 'TOP-1',
    name: 'Top of it',
    fileName: 'top.stp',
    timeStamp: '2026-01-01T00:00:00',
    components: parts.map((part) => ({
      id: part.name.toUpperCase(),
      name: part.name,
      written: fileOf(part),
      placings: (part.places ?? [IDENTITY]).map((placement) => ({ name: part.name, placement })),
    })),
  });
  return new MemoryFileSet([...contents, ['top.stp', top]]);
}

export function placedAt(x: number, y: number, z: number): Matrix4 {
  return placementFromAxes([x, y, z]) as Matrix4;
}

/** A cylinder along z, from a height on. mm. */
export function roundBar(radius: number, length: number, at: [number, number, number] = [0, 0, 0]): Shape3D {
  return makeCylinder(radius, length, at) as Shape3D;
}

/** A ring around z. mm. */
export function ring(outer: number, inner: number, height: number, z = 0): Shape3D {
  return roundBar(outer, height, [0, 0, z]).cut(roundBar(inner, height + 2, [0, 0, z - 1])) as Shape3D;
}

/** Cuts one after the other. */
export function without(from: Shape3D, ...others: readonly Shape3D[]): Shape3D {
  return others.reduce((left, other) => left.cut(other) as Shape3D, from);
}

/** Places around z, at an angle of their own each. */
export function around(count: number, radius: number, z = 0): Matrix4[] {
  return Array.from({ length: count }, (_, n) => {
    const angle = (2 * Math.PI * n) / count;
    return placedAt(radius * Math.cos(angle), radius * Math.sin(angle), z);
  });
}

/** Two rings with needles between them, all of one length: 26 bodies. */
export function needleBearing(count = 24): MadePart[] {
  return [
    { name: 'Outer ring', bodies: [ring(30, 24, 20)] },
    { name: 'Inner ring', bodies: [ring(20, 14, 20)] },
    { name: 'Needle', bodies: [roundBar(1.9, 18)], places: around(count, 22, 1) },
  ];
}

/**
 * A hollow housing with a lid on screws, a shaft that stands out of it at both ends, and inside a second shaft with a gear on it.
 * @param shaft diameter of the shaft
 */
export function gearHousing(shaft = 24): MadePart[] {
  const screws: [number, number][] = [
    [50, 35],
    [-50, 35],
    [50, -35],
    [-50, -35],
  ];
  const along = (radius: number, length: number, y: number, z: number) =>
    (roundBar(radius, length) as Shape3D)
      .rotate(90, [0, 0, 0], [0, 1, 0])
      .translate([-length / 2, y, z]) as Shape3D;
  const housing = without(
    boxAt(120, 90, 70),
    boxAt(100, 70, 65, [0, 0, 5]),
    along(shaft / 2 + 0.3, 200, 0, 35),
    ...screws.map(([x, y]) => roundBar(2.5, 15, [x, y, 56])),
  );
  const lid = without(
    boxAt(120, 90, 8, [0, 0, 70]),
    ...screws.map(([x, y]) => roundBar(3.3, 20, [x, y, 65])),
  );
  const screw = roundBar(3, 20, [0, 0, -14]).fuse(roundBar(5, 4, [0, 0, 6])) as Shape3D;
  return [
    { name: 'Housing', bodies: [housing] },
    { name: 'Housing lid', bodies: [lid] },
    { name: 'Through shaft', bodies: [along(shaft / 2, 200, 0, 35)] },
    { name: 'Inner shaft', bodies: [along(6, 90, 25, 35)] },
    { name: 'Gear', bodies: [without(along(14, 12, 25, 35), along(6, 20, 25, 35))] },
    { name: 'Screw', bodies: [screw], places: screws.map(([x, y]) => placedAt(x, y, 72)) },
  ];
}
