import type {
  gp_Ax1,
  gp_Dir,
  gp_Pnt,
  OpenCascadeInstance,
  TopoDS_Edge,
  TopoDS_Face,
  TopoDS_Shape,
} from 'replicad-opencascadejs';
import type { ExactBody, ExactEdge, ExactFace, ExactPoint } from './exact';
import { Met } from './occt-met';

/** A tenth of a nanometre: what is finer is the rounding of sums. */
const GRAIN = 1e7;
/** Edges that are shorter have no length, mm. */
const LEAST = 1e-7;
/** How far apart two rings of a cone are looked at, mm along its side. */
const CONE_STEP = 10;
/** Points that are kept of a curve that has no centre and no direction. */
const SAMPLES = 16;

/** The surfaces and curves of a body, as the kernel knows them. */
export function exactOf(oc: OpenCascadeInstance, shape: TopoDS_Shape): ExactBody {
  const result: ExactBody = { faces: [], edges: [] };
  using met = new Met<TopoDS_Edge>();
  const { TopAbs_FACE, TopAbs_EDGE } = oc.TopAbs_ShapeEnum;
  using faces = new oc.TopExp_Explorer(shape, TopAbs_FACE);
  for (; faces.More(); faces.Next()) {
    using current = faces.Current();
    using face = oc.TopoDS.Face(current);
    result.faces.push(exactFace(oc, face));
    using around = new oc.TopExp_Explorer(face, TopAbs_EDGE);
    for (; around.More(); around.Next()) {
      using side = around.Current();
      const edge = oc.TopoDS.Edge(side);
      const exact = oc.BRep_Tool.IsClosed(edge, face) ? null : exactEdge(oc, edge);
      if (!exact) edge.delete();
      else if (met.isNew(edge, keyOf(exact))) result.edges.push(exact);
    }
  }
  return result;
}

function exactFace(oc: OpenCascadeInstance, face: TopoDS_Face): ExactFace {
  using surface = new oc.BRepAdaptor_Surface(face, true);
  using properties = new oc.GProp_GProps();
  oc.BRepGProp.SurfaceProperties(face, properties, false, false);
  const area = rounded(properties.Mass());
  const kind = surface.GetType().replace('GeomAbs_', '').toLowerCase();
  if (kind === 'plane') {
    using plane = surface.Plane();
    using axis = plane.Axis();
    const { at, along } = lineOf(axis);
    const isTurned = face.Orientation() === oc.TopAbs_Orientation.TopAbs_REVERSED;
    // A plane whose own axes are left-handed has its normal the other way round.
    const sign = isTurned === plane.Direct() ? -1 : 1;
    return { kind, area, at, normal: along.map((value) => sign * value || 0) as unknown as ExactPoint };
  }
  if (kind === 'cylinder') {
    using cylinder = surface.Cylinder();
    using axis = cylinder.Axis();
    const { at, along } = lineOf(axis);
    return { kind, area, at, axis: along, radius: rounded(cylinder.Radius()) };
  }
  if (kind === 'sphere') {
    using sphere = surface.Sphere();
    using centre = sphere.Location();
    return { kind, area, at: pointOf(centre), radius: rounded(sphere.Radius()) };
  }
  // This build has no cone and no torus to ask: points half a turn apart tell them.
  const ringAt = (v: number) => {
    using one = surface.EvalD0(0, v);
    using other = surface.EvalD0(Math.PI, v);
    return across(pointOf(one), pointOf(other));
  };
  if (kind === 'cone') {
    const [low, high] = [ringAt(0), ringAt(CONE_STEP)];
    const { way, distance } = between(low.middle, high.middle);
    const halfAngle = Math.atan2(Math.abs(high.radius - low.radius), distance);
    return { kind, area, at: low.middle, axis: way, radius: rounded(low.radius), halfAngle };
  }
  if (kind === 'torus') {
    const [outside, inside, top] = [ringAt(0), ringAt(Math.PI), ringAt(Math.PI / 2)];
    const tube = rounded((outside.radius - inside.radius) / 2);
    const { way } = between(outside.middle, top.middle);
    return {
      kind,
      area,
      at: outside.middle,
      axis: way,
      radius: rounded((outside.radius + inside.radius) / 2),
      tube,
    };
  }
  return { kind: 'free', area, surface: kind };
}

/** Null for an edge without length: the tip of a cone, a pole of a sphere. */
function exactEdge(oc: OpenCascadeInstance, edge: TopoDS_Edge): ExactEdge | null {
  using curve = new oc.BRepAdaptor_Curve(edge);
  const [first, last] = [curve.FirstParameter(), curve.LastParameter()];
  const on = (part: number) => {
    using point = curve.EvalD0(first + (last - first) * part);
    return pointOf(point);
  };
  const kind = curve.GetType().replace('GeomAbs_', '').toLowerCase();
  if (kind === 'line') {
    const [from, to] = [on(0), on(1)];
    const length = rounded(Math.hypot(...from.map((value, n) => value - to[n]!)));
    return length > LEAST ? { kind, length, from, to } : null;
  }
  if (kind === 'circle') {
    using circle = curve.Circle();
    using axis = circle.Axis();
    const { at, along } = lineOf(axis);
    const radius = rounded(circle.Radius());
    const length = rounded(radius * (last - first));
    if (!(length > LEAST)) return null;
    return {
      kind,
      length,
      at,
      axis: along,
      radius,
      from: on(0),
      to: on(1),
      middle: on(0.5),
    };
  }
  using properties = new oc.GProp_GProps();
  oc.BRepGProp.LinearProperties(edge, properties, false, false);
  const length = rounded(properties.Mass());
  if (!(length > LEAST)) return null;
  const points = Array.from({ length: SAMPLES + 1 }, (_, n) => on(n / SAMPLES));
  return { kind: 'free', length, curve: kind, points };
}

/** What tells an edge from most others, whichever way it is traversed. */
function keyOf(edge: ExactEdge): string {
  const middle =
    edge.kind === 'line'
      ? edge.from.map((value, n) => value + edge.to[n]!)
      : edge.kind === 'circle'
        ? edge.middle
        : edge.points[SAMPLES / 2]!;
  return `${edge.length.toFixed(4)} ${middle.map((value) => value.toFixed(4))}`;
}

/** The circle of which two points lie opposite each other. */
function across(a: ExactPoint, b: ExactPoint): { middle: ExactPoint; radius: number } {
  const middle = a.map((value, n) => rounded((value + b[n]!) / 2)) as unknown as ExactPoint;
  return { middle, radius: between(a, b).distance / 2 };
}

function between(a: ExactPoint, b: ExactPoint): { way: ExactPoint; distance: number } {
  const off = b.map((value, n) => value - a[n]!);
  const distance = Math.hypot(...off);
  return { way: off.map((value) => rounded(value / distance)) as unknown as ExactPoint, distance };
}

function lineOf(axis: gp_Ax1): { at: ExactPoint; along: ExactPoint } {
  using location = axis.Location();
  using direction = axis.Direction();
  return { at: pointOf(location), along: [direction.X(), direction.Y(), direction.Z()] };
}

function pointOf(point: gp_Pnt | gp_Dir): ExactPoint {
  return [rounded(point.X()), rounded(point.Y()), rounded(point.Z())];
}

function rounded(value: number): number {
  return Math.round(value * GRAIN) / GRAIN || 0;
}
