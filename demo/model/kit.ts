import { type AnyShape, draw, makeCylinder, type Shape3D } from 'replicad';

/** A colour of the demo's paints and metals. */
export const PAINT = {
  galvanised: '#a3abb0',
  drive: '#2f6f73',
  driveLid: '#3c8186',
  machined: '#c3c8cc',
  steel: '#b9bec4',
  darkSteel: '#6f767d',
  bronze: '#b8925a',
  ball: '#d5dade',
  rubber: '#2d2f31',
  motor: '#39424e',
  motorCap: '#c9792b',
  frame: '#d9d3c4',
  lattice: '#c3bba6',
  mirror: '#a9cfe6',
  glassBack: '#5f7f92',
  actuator: '#4b535c',
  rod: '#d9dde1',
  zinc: '#c4c0a4',
  brass: '#c2a14d',
  clip: '#8d949a',
  cable: '#3a3a3a',
} as const;

/** One body of a demo part. */
export interface DemoBody {
  shape: Shape3D;
  name: string;
  colour: string;
  /** Another colour for its bores, as for the machined surfaces of a painted casting. */
  bores?: string;
}

/** A part file to be made: its product and its bodies, modelled in millimetres about the part's own origin. */
export interface DemoPart {
  file: string;
  id: string;
  name: string;
  bodies: () => DemoBody[];
}

export const one = (name: string, colour: string, shape: Shape3D, bores?: string): DemoBody[] => [
  { name, colour, shape, bores },
];

export const cylinder = (
  radius: number,
  height: number,
  at: [number, number, number] = [0, 0, 0],
  direction: [number, number, number] = [0, 0, 1],
) => makeCylinder(radius, height, at, direction);

/** Points around a circle, starting at an angle in degrees. */
export function around(count: number, radius: number, start = 0): [number, number][] {
  return Array.from({ length: count }, (_, n) => {
    const angle = ((start + (360 * n) / count) * Math.PI) / 180;
    return [radius * Math.cos(angle), radius * Math.sin(angle)];
  });
}

/** Cuts one tool after another; unlike a cut with a compound, each works on the plain result of the one before. */
export function cutAll(shape: Shape3D, tools: AnyShape[]): Shape3D {
  return tools.reduce<Shape3D>((left, tool) => left.cut(tool as Shape3D) as Shape3D, shape);
}

export function fuseAll(shape: Shape3D, others: Shape3D[]): Shape3D {
  return others.reduce<Shape3D>((left, other) => left.fuse(other) as Shape3D, shape);
}

/** A ring of rectangular section about z. */
export function ring(outer: number, inner: number, height: number, z = 0): Shape3D {
  return cylinder(outer, height, [0, 0, z]).cut(cylinder(inner, height + 2, [0, 0, z - 1])) as Shape3D;
}

/** A closed outline through points, extruded along z from `z`. */
export function prism(points: readonly (readonly [number, number])[], height: number, z = 0): Shape3D {
  const [first, ...rest] = points as [number, number][];
  const pen = draw(first);
  for (const point of rest) pen.lineTo(point);
  return pen.close().sketchOnPlane('XY', z).extrude(height) as Shape3D;
}

/** A turned part: the outline in the plane of radius (first) and z (second), turned about z. */
export function turned(outline: readonly (readonly [number, number])[]): Shape3D {
  const [first, ...rest] = outline as [number, number][];
  const pen = draw(first);
  for (const point of rest) pen.lineTo(point);
  return pen.close().sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
}

/** A hexagon prism across flats, with its axis on z. */
export function hexagon(acrossFlats: number, height: number, z = 0): Shape3D {
  return prism(around(6, acrossFlats / Math.sqrt(3)), height, z);
}
