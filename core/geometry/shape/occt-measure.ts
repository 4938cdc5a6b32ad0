import type { GProp_GProps, gp_Pnt, OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { emptyBox } from '#core/product/box';
import type { BodyFacts, BodyMesh } from './body';
import { principalValues } from './moments';

/** Chord error of a mesh, as part of the body's diagonal, and its bounds in millimetres. */
const CHORD = { part: 0.0012, least: 0.005, most: 2 };
/** Largest angle between neighbouring normals, radians. */
const ANGLE = 0.3;

/**
 * Properties of a shape: volume, area, centre and moments from its surfaces; the box from its surfaces where that is cheap
 * (planes, cylinders, cones), else from the mesh, whose chord error is then said.
 */
export function measureShape(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  mesh: BodyMesh = meshShape(oc, shape),
): BodyFacts {
  using surface = new oc.GProp_GProps();
  using solid = new oc.GProp_GProps();
  oc.BRepGProp.SurfaceProperties(shape, surface, false, false);
  oc.BRepGProp.VolumeProperties(shape, solid, true, false, false);
  const volume = solid.Mass();
  const isSolid = hasSolid(oc, shape);
  using centre = (isSolid ? solid : surface).CentreOfMass();
  return {
    volume: isSolid ? volume : 0,
    area: surface.Mass(),
    centre: [centre.X(), centre.Y(), centre.Z()],
    moments: isSolid ? momentsAbout(oc, solid, centre) : [0, 0, 0],
    ...boxOf(oc, shape, mesh),
    faces: mesh.faceGroups.length / 2,
  };
}

/** mm³, from its surfaces; 0 for an open one. */
export function volumeOf(oc: OpenCascadeInstance, shape: TopoDS_Shape): number {
  using solid = new oc.GProp_GProps();
  oc.BRepGProp.VolumeProperties(shape, solid, true, false, false);
  return solid.Mass();
}

function hasSolid(oc: OpenCascadeInstance, shape: TopoDS_Shape): boolean {
  using explorer = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum.TopAbs_SOLID);
  return explorer.More();
}

/** Surfaces that lie within the box of their edges: straight lines run through each of their points. */
const RULED = new Set(['GeomAbs_Plane', 'GeomAbs_Cylinder', 'GeomAbs_Cone']);

/**
 * The box, exact but where a face of another kind reaches furthest. The exact box of such a face took twenty times as long as
 * all the rest of measuring a worm; its mesh lies within the chord error of it.
 */
function boxOf(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  { positions, triangles, faceGroups, chord }: BodyMesh,
): Pick<BodyFacts, 'box' | 'boxTolerance'> {
  using ruled = new oc.Bnd_Box();
  const curved = emptyBox();
  using explorer = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum.TopAbs_FACE);
  for (let n = 0; explorer.More(); explorer.Next(), n++) {
    using current = explorer.Current();
    using face = oc.TopoDS.Face(current);
    using adaptor = new oc.BRepAdaptor_Surface(face, true);
    if (RULED.has(adaptor.GetType())) {
      oc.BRepBndLib.AddOptimal(face, ruled, false, false);
      continue;
    }
    const [from, count] = [faceGroups[n * 2]!, faceGroups[n * 2 + 1]!];
    for (let at = from; at < from + count; at++)
      for (let axis = 0; axis < 3; axis++) {
        const value = positions[triangles[at]! * 3 + axis]!;
        if (value < curved[axis]!) curved[axis] = value;
        if (value > curved[axis + 3]!) curved[axis + 3] = value;
      }
  }
  const exact = ruled.IsVoid()
    ? emptyBox()
    : [ruled.GetXMin(), ruled.GetYMin(), ruled.GetZMin(), ruled.GetXMax(), ruled.GetYMax(), ruled.GetZMax()];
  const box = exact.map((value, n) =>
    n < 3 ? Math.min(value, curved[n]!) : Math.max(value, curved[n]!),
  ) as BodyFacts['box'];
  const reaches = exact.some((value, n) => (n < 3 ? curved[n]! < value + 1e-6 : curved[n]! > value - 1e-6));
  return { box, boxTolerance: reaches ? chord : 0 };
}

/** The kernel gives the moment about an axis: three along the coordinates, three between them make the tensor. */
function momentsAbout(oc: OpenCascadeInstance, solid: GProp_GProps, centre: gp_Pnt): BodyFacts['moments'] {
  const about = (x: number, y: number, z: number) => {
    using direction = new oc.gp_Dir(x, y, z);
    using axis = new oc.gp_Ax1(centre, direction);
    return Math.abs(solid.MomentOfInertia(axis));
  };
  const [xx, yy, zz] = [about(1, 0, 0), about(0, 1, 0), about(0, 0, 1)];
  // The moment about a direction n is n · I n; half-way between two axes it holds their product.
  const [xy, yz, zx] = [about(1, 1, 0), about(0, 1, 1), about(1, 0, 1)];
  return principalValues([xx, yy, zz, xy - (xx + yy) / 2, yz - (yy + zz) / 2, zx - (zz + xx) / 2]);
}

/**
 * Meshes a shape for display; the faces in the order in which an explorer meets them.
 * @param wanted chord error, mm; by the size of the shape unless it is said
 * @param angle between neighbouring normals, radians
 */
export function meshShape(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  wanted?: number,
  angle = ANGLE,
): BodyMesh {
  const diagonal = roughDiagonal(oc, shape);
  const chord = wanted ?? Math.min(CHORD.most, Math.max(CHORD.least, diagonal * CHORD.part));
  using faces = oc.ReplicadMeshExtractor.extract(shape, chord, angle, false);
  const floats = (pointer: number, size: number) =>
    new Float32Array(oc.wasmMemory.buffer, pointer >>> 0, size).slice();
  const integers = (pointer: number, size: number) =>
    new Uint32Array(oc.wasmMemory.buffer, pointer >>> 0, size).slice();
  const groups = integers(faces.getFaceGroupsPtr(), faces.getFaceGroupsSize());
  const result = {
    positions: floats(faces.getVerticesPtr(), faces.getVerticesSize()),
    normals: floats(faces.getNormalsPtr(), faces.getNormalsSize()),
    triangles: integers(faces.getTrianglesPtr(), faces.getTrianglesSize()),
    faceGroups: groups.filter((_, n) => n % 3 !== 2),
  };
  using lines = oc.ReplicadEdgeMeshExtractor.extract(shape, chord, angle);
  return { ...result, edges: floats(lines.getLinesPtr(), lines.getLinesSize()), chord };
}

/** From the control points of free-form faces, so a little too large now and then. */
function roughDiagonal(oc: OpenCascadeInstance, shape: TopoDS_Shape): number {
  using box = new oc.Bnd_Box();
  oc.BRepBndLib.Add(shape, box, false);
  if (box.IsVoid()) return 0;
  return Math.hypot(
    box.GetXMax() - box.GetXMin(),
    box.GetYMax() - box.GetYMin(),
    box.GetZMax() - box.GetZMin(),
  );
}
