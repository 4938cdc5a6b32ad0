import type {
  NCollection_List_TopoDS_Shape,
  OpenCascadeInstance,
  TopoDS_Face,
  TopoDS_Shape,
} from 'replicad-opencascadejs';
import { diagonalOf, middleOf } from '#core/product/box';
import { distance, dot, offset, subtract } from '#core/product/vector';
import type { BodyFacts } from './body';
import {
  CutError,
  type CutPiece,
  type CutStep,
  type Cutter,
  type FaceOf,
  type Point,
  piecePath,
  sliverOf,
} from './cut';
import { featuresOf } from './occt-features';
import { measureShape, meshShape, volumeOf } from './occt-measure';
import { writeStep } from './occt-step';

/** A solid, and for each of its faces which face of the body that is cut it comes from. */
interface Part {
  shape: TopoDS_Shape;
  faces: (number | null)[];
}

/** Gives the shape of a body of the file by its number. */
export type BodySource = (body: number) => TopoDS_Shape;

/**
 * Cuts a body step by step, exactly, with the kernel's splitter.
 * @param unit name of the unit that the pieces' STEP text is written in, as the kernel knows it: MM, M, INCH, ...
 * @throws CutError for a cut that misses, or that the kernel cannot make
 */
export function cutShape(
  oc: OpenCascadeInstance,
  body: TopoDS_Shape,
  steps: readonly CutStep[],
  shapeOf: BodySource,
  unit: string,
  onStep: (done: number) => void = () => {},
): CutPiece[] {
  const whole = measureShape(oc, body);
  if (!(whole.volume > 0)) throw new CutError('This body is an open surface. Only solids can be cut.');
  let pieces = new Map<string, Part>([
    ['', { shape: body, faces: withFaces(oc, body, (faces) => [...faces.keys()]) }],
  ]);
  for (const [n, { piece, cutter }] of steps.entries()) {
    const toCut = pieces.get(piece);
    if (!toCut) throw new CutError(`There is no piece ${piece} to cut.`, n);
    const faceOf = ({ of, face }: FaceOf) => {
      const holder = typeof of === 'number' ? shapeOf(of) : pieces.get(of)?.shape;
      if (!holder) throw new CutError(`There is no piece ${of} to take a face from.`, n);
      return faceAt(oc, holder, face, n);
    };
    const parts = splitBy(oc, toCut, toolFor(oc, cutter, whole, faceOf, n), n);
    // The pieces take the place of what was cut.
    pieces = new Map(
      [...pieces].flatMap(([path, other]) =>
        path === piece
          ? parts.map((part, at) => [piecePath(piece, at), part] as const)
          : [[path, other] as const],
      ),
    );
    onStep(n + 1);
  }
  return [...pieces].map(([path, { shape, faces }]) => {
    const mesh = meshShape(oc, shape);
    const facts = measureShape(oc, shape, mesh);
    return {
      path,
      facts,
      faces,
      mesh,
      features: featuresOf(oc, shape),
      sliver: path === '' ? null : sliverOf(facts, whole),
      step: writeStep(oc, [shape], unit),
    };
  });
}

/** The solids that a tool leaves of a shape, largest first. */
function splitBy(oc: OpenCascadeInstance, { shape, faces }: Part, tool: TopoDS_Shape, step: number): Part[] {
  using splitter = new oc.BRepAlgoAPI_Splitter();
  using bodies = new oc.NCollection_List_TopoDS_Shape();
  using tools = new oc.NCollection_List_TopoDS_Shape();
  bodies.Append(shape);
  tools.Append(tool);
  splitter.SetArguments(bodies);
  splitter.SetTools(tools);
  splitter.Build();
  if (splitter.HasErrors()) throw new CutError('This body cannot be cut here. Move the cut a little.', step);
  using result = splitter.Shape();
  const solids: { shape: TopoDS_Shape; volume: number }[] = [];
  using explorer = new oc.TopExp_Explorer(result, oc.TopAbs_ShapeEnum.TopAbs_SOLID);
  for (; explorer.More(); explorer.Next()) {
    const solid = explorer.Current();
    solids.push({ shape: solid, volume: volumeOf(oc, solid) });
  }
  if (solids.length < 2)
    throw new CutError(
      'The cut misses: it leaves one piece. It must pass through the body from side to side.',
      step,
    );
  const before = volumeOf(oc, shape);
  const after = solids.reduce((sum, { volume }) => sum + volume, 0);
  if (Math.abs(after - before) > 1e-4 * before)
    throw new CutError(
      `The pieces together have ${Number(((100 * after) / before).toPrecision(6))} % of the volume: the geometry kernel failed here. Move the cut a little.`,
      step,
    );
  // What became of each face that there was: itself, or what the tool left of it.
  return withFaces(oc, shape, (before) => {
    const left = before.flatMap((face, n) => {
      const parts = listed(oc, splitter.Modified(face));
      return (parts.length > 0 ? parts : [face]).map((part) => ({ part, from: faces[n]! }));
    });
    return solids
      .sort((a, b) => b.volume - a.volume)
      .map(({ shape: solid }) => ({
        shape: solid,
        faces: withFaces(oc, solid, (now) =>
          now.map((face) => left.find(({ part }) => part.IsSame(face))?.from ?? null),
        ),
      }));
  });
}

/** Gives the faces of a shape to a function, and takes them back after it. */
function withFaces<T>(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  use: (faces: readonly TopoDS_Shape[]) => T,
): T {
  const faces: TopoDS_Shape[] = [];
  using explorer = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum.TopAbs_FACE);
  for (; explorer.More(); explorer.Next()) faces.push(explorer.Current());
  try {
    return use(faces);
  } finally {
    for (const face of faces) face.delete();
  }
}

function listed(oc: OpenCascadeInstance, list: NCollection_List_TopoDS_Shape): TopoDS_Shape[] {
  const shapes: TopoDS_Shape[] = [];
  using rest = new oc.NCollection_List_TopoDS_Shape(list);
  for (; !rest.IsEmpty(); rest.RemoveFirst()) {
    // What the list holds goes with it; turned as it was, it is a shape of its own.
    using first = rest.First();
    shapes.push(first.Oriented(first.Orientation()));
  }
  return shapes;
}

function toolFor(
  oc: OpenCascadeInstance,
  cutter: Cutter,
  { box }: BodyFacts,
  faceOf: (face: FaceOf) => TopoDS_Face,
  step: number,
): TopoDS_Shape {
  const reach = (from: Point) => distance(from, middleOf(box)) + diagonalOf(box);
  if (cutter.kind === 'plane')
    return planeFace(oc, cutter.at, unitVector(cutter.normal, step), reach(cutter.at));
  if (cutter.kind === 'face') return surfaceOf(oc, faceOf(cutter), reach);

  const normal =
    'of' in cutter.along ? normalOf(oc, faceOf(cutter.along), step) : unitVector(cutter.along as Point, step);
  // Points are brought onto one plane: what was snapped to may lie a hair off it.
  const start = cutter.points[0];
  if (!start) throw new CutError('A line needs two points.', step);
  const flat = cutter.points
    .map((point) => offset(point, normal, dot(subtract(start, point), normal)))
    .filter((point, n, all) => n === 0 || distance(point, all[n - 1]!) > 1e-6);
  if (flat.length < 2) throw new CutError('A line needs two points that differ in the plane.', step);
  const isClosed = flat.length > 3 && distance(flat[0]!, flat.at(-1)!) < 1e-6;
  if (isClosed) flat[flat.length - 1] = flat[0]!;
  else {
    const extended = (end: Point, before: Point) =>
      offset(end, unitVector(subtract(end, before), step), reach(end));
    const [first, last] = [extended(flat[0]!, flat[1]!), extended(flat.at(-1)!, flat.at(-2)!)];
    flat[0] = first;
    flat[flat.length - 1] = last;
  }
  const depth = reach(start);
  using wire = new oc.BRepBuilderAPI_MakeWire();
  for (let n = 1; n < flat.length; n++) {
    const [a, b] = [flat[n - 1]!, flat[n]!].map((point) => offset(point, normal, -depth)) as [Point, Point];
    using from = new oc.gp_Pnt(...a);
    using to = new oc.gp_Pnt(...b);
    using edge = new oc.BRepBuilderAPI_MakeEdge(from, to);
    wire.Add(edge.Edge());
  }
  using sweep = new oc.gp_Vec(normal[0] * 2 * depth, normal[1] * 2 * depth, normal[2] * 2 * depth);
  using prism = new oc.BRepPrimAPI_MakePrism(wire.Wire(), sweep, false, true);
  return prism.Shape();
}

function planeFace(oc: OpenCascadeInstance, at: Point, normal: Point, reach: number): TopoDS_Shape {
  using point = new oc.gp_Pnt(...at);
  using direction = new oc.gp_Dir(...normal);
  using plane = new oc.gp_Pln(point, direction);
  using face = new oc.BRepBuilderAPI_MakeFace(plane, -reach, reach, -reach, reach);
  return face.Shape();
}

/** The surface that a face lies on, as far as it goes on by itself. */
function surfaceOf(oc: OpenCascadeInstance, face: TopoDS_Face, reach: (from: Point) => number): TopoDS_Shape {
  using surface = new oc.BRepAdaptor_Surface(face, true);
  const type = surface.GetType();
  if (type === oc.GeomAbs_SurfaceType.GeomAbs_Plane) {
    using plane = surface.Plane();
    using location = plane.Location();
    const size = reach([location.X(), location.Y(), location.Z()]);
    using whole = new oc.BRepBuilderAPI_MakeFace(plane, -size, size, -size, size);
    return whole.Shape();
  }
  if (type === oc.GeomAbs_SurfaceType.GeomAbs_Cylinder) {
    using cylinder = surface.Cylinder();
    using location = cylinder.Location();
    const size = reach([location.X(), location.Y(), location.Z()]);
    using whole = new oc.BRepBuilderAPI_MakeFace(cylinder, 0, 2 * Math.PI, -size, size);
    return whole.Shape();
  }
  return face;
}

function normalOf(oc: OpenCascadeInstance, face: TopoDS_Face, step: number): Point {
  using surface = new oc.BRepAdaptor_Surface(face, true);
  if (surface.GetType() !== oc.GeomAbs_SurfaceType.GeomAbs_Plane)
    throw new CutError('Lines are drawn on a plane. Pick a flat face, or a standard plane.', step);
  using plane = surface.Plane();
  using axis = plane.Axis();
  using direction = axis.Direction();
  return [direction.X(), direction.Y(), direction.Z()];
}

function faceAt(oc: OpenCascadeInstance, shape: TopoDS_Shape, wanted: number, step: number): TopoDS_Face {
  const face = withFaces(oc, shape, (faces) => faces[wanted] && oc.TopoDS.Face(faces[wanted]));
  if (face) return face;
  throw new CutError('The face that was picked is no longer there. Pick it again.', step);
}

function unitVector(v: Point, step: number): Point {
  const length = Math.hypot(...v);
  if (!(length > 1e-9)) throw new CutError('The direction of the cut has no length.', step);
  return [v[0] / length, v[1] / length, v[2] / length];
}
