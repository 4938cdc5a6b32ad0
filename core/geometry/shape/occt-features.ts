import type {
  OpenCascadeInstance,
  TopoDS_Edge,
  TopoDS_Face,
  TopoDS_Shape,
  TopoDS_Vertex,
} from 'replicad-opencascadejs';
import type { ShapeFeature } from './features';
import { Met } from './occt-met';

type Point = [number, number, number];
/** Where free-form geometry is sampled, as parts of its parameter range: the same whichever way it is traversed. */
const PARTS = [0.25, 0.5, 0.75];

/**
 * The features of a body (core/geometry/shape/features). Seams of closed surfaces, and vertices that only say where a closed
 * curve begins, are left out: they are the writer's choice and no part of the shape.
 */
export function featuresOf(oc: OpenCascadeInstance, shape: TopoDS_Shape): ShapeFeature[] {
  const faceFound: ShapeFeature[] = [];
  const found: ShapeFeature[] = [];
  // Neighbouring faces share edges, and edges vertices: each is one, whatever else lies at the same place.
  using edges = new Met<TopoDS_Edge>();
  using vertices = new Met<TopoDS_Vertex>();
  const { TopAbs_FACE, TopAbs_EDGE, TopAbs_VERTEX } = oc.TopAbs_ShapeEnum;

  using faces = new oc.TopExp_Explorer(shape, TopAbs_FACE);
  for (; faces.More(); faces.Next()) {
    using current = faces.Current();
    using face = oc.TopoDS.Face(current);
    let [seam, real] = [false, false];
    using around = new oc.TopExp_Explorer(face, TopAbs_EDGE);
    for (; around.More(); around.Next()) {
      using side = around.Current();
      const edge = oc.TopoDS.Edge(side);
      const isSeam = oc.BRep_Tool.IsClosed(edge, face);
      const features = isSeam ? [] : edgeFeatures(oc, edge);
      seam ||= isSeam;
      if (features.length === 0) {
        edge.delete();
        continue;
      }
      real = true;
      if (!edges.isNew(edge, keyOf(features[0]!))) continue;
      found.push(...features);
      if (oc.BRep_Tool.IsClosed(edge)) continue;
      using ends = new oc.TopExp_Explorer(edge, TopAbs_VERTEX);
      for (; ends.More(); ends.Next()) {
        using end = ends.Current();
        const vertex = oc.TopoDS.Vertex(end);
        using point = oc.BRep_Tool.Pnt(vertex);
        const feature: ShapeFeature = {
          kind: 'vertex',
          size: 0,
          radius: 0,
          at: [point.X(), point.Y(), point.Z()],
        };
        if (vertices.isNew(vertex, keyOf(feature))) found.push(feature);
      }
    }
    faceFound.push(...faceFeatures(oc, face, seam && real));
  }
  return [...faceFound, ...found];
}

/** What tells an edge or a vertex from most others. */
function keyOf({ size, at }: ShapeFeature): string {
  return `${size} ${at}`;
}

function faceFeatures(oc: OpenCascadeInstance, face: TopoDS_Face, ring: boolean): ShapeFeature[] {
  using surface = new oc.BRepAdaptor_Surface(face, true);
  using properties = new oc.GProp_GProps();
  oc.BRepGProp.SurfaceProperties(face, properties, false, false);
  using centre = properties.CentreOfMass();
  const at: Point = [centre.X(), centre.Y(), centre.Z()];
  const type = surface.GetType().replace('GeomAbs_', '').toLowerCase();
  const feature = { kind: `face ${type}`, size: properties.Mass(), radius: 0, at };
  if (type === 'plane' || type === 'cone') return [feature];
  if (type === 'sphere') {
    using sphere = surface.Sphere();
    return [{ ...feature, radius: sphere.Radius() }];
  }
  if (type === 'cylinder') {
    using cylinder = surface.Cylinder();
    using axis = cylinder.Axis();
    const radius = cylinder.Radius();
    using location = axis.Location();
    using direction = axis.Direction();
    const along: Point = [direction.X(), direction.Y(), direction.Z()];
    const from: Point = [location.X(), location.Y(), location.Z()];
    const reach = along.reduce((sum, value, n) => sum + value * (at[n]! - from[n]!), 0);
    const foot = from.map((value, n) => value + along[n]! * reach) as Point;
    return [{ ...feature, radius }, ...axisPoints('cylinder', foot, along, radius)];
  }
  if (ring) return [feature];
  const bounds = oc.BRepTools.UVBounds(face);
  const samples = PARTS.flatMap((u) =>
    PARTS.map((v): ShapeFeature => {
      using point = surface.EvalD0(
        bounds.UMin + (bounds.UMax - bounds.UMin) * u,
        bounds.VMin + (bounds.VMax - bounds.VMin) * v,
      );
      return { kind: `on ${type}`, size: 0, radius: 0, at: [point.X(), point.Y(), point.Z()] };
    }),
  );
  return [feature, ...samples];
}

/** None for an edge without length: the tip of a cone, a pole of a sphere. */
function edgeFeatures(oc: OpenCascadeInstance, edge: TopoDS_Edge): ShapeFeature[] {
  using properties = new oc.GProp_GProps();
  oc.BRepGProp.LinearProperties(edge, properties, false, false);
  if (!(properties.Mass() > 1e-9)) return [];
  using curve = new oc.BRepAdaptor_Curve(edge);
  using centre = properties.CentreOfMass();
  const type = curve.GetType().replace('GeomAbs_', '').toLowerCase();
  const feature: ShapeFeature = {
    kind: `edge ${type}`,
    size: properties.Mass(),
    radius: 0,
    at: [centre.X(), centre.Y(), centre.Z()],
  };
  if (type === 'line') return [feature];
  if (type === 'circle') {
    using circle = curve.Circle();
    using axis = circle.Axis();
    using location = axis.Location();
    using direction = axis.Direction();
    const radius = circle.Radius();
    return [
      { ...feature, radius },
      ...axisPoints(
        'circle',
        [location.X(), location.Y(), location.Z()],
        [direction.X(), direction.Y(), direction.Z()],
        radius,
      ),
    ];
  }
  const [first, last] = [curve.FirstParameter(), curve.LastParameter()];
  const samples = PARTS.map((part): ShapeFeature => {
    using point = curve.EvalD0(first + (last - first) * part);
    return { kind: `on ${type}`, size: 0, radius: 0, at: [point.X(), point.Y(), point.Z()] };
  });
  return [feature, ...samples];
}

/** Two points that hold the axis of revolution fast, whichever way the axis points. */
function axisPoints(of: string, centre: Point, along: Point, radius: number): ShapeFeature[] {
  return [radius, -radius].map((reach) => ({
    kind: `axis of ${of}`,
    size: 0,
    radius,
    at: centre.map((value, n) => value + along[n]! * reach) as Point,
  }));
}
