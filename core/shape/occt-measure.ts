import type { GProp_GProps, gp_Pnt, OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import type { BodyFacts, BodyMesh } from './body';
import { principalValues } from './moments';

/** Chord error of a mesh, as part of the body's diagonal, and its bounds in millimetres. */
const CHORD = { part: 0.0012, least: 0.005, most: 2 };
/** Largest angle between neighbouring normals, radians. */
const ANGLE = 0.3;

/** Exact properties of a shape. */
export function measureShape(oc: OpenCascadeInstance, shape: TopoDS_Shape): BodyFacts {
  using surface = new oc.GProp_GProps();
  using solid = new oc.GProp_GProps();
  using box = new oc.Bnd_Box();
  oc.BRepGProp.SurfaceProperties(shape, surface, false, false);
  oc.BRepGProp.VolumeProperties(shape, solid, true, false, false);
  oc.BRepBndLib.AddOptimal(shape, box, false, false);
  const volume = Math.abs(solid.Mass());
  using centre = (volume > 0 ? solid : surface).CentreOfMass();
  let faces = 0;
  using explorer = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum.TopAbs_FACE);
  for (; explorer.More(); explorer.Next()) faces++;
  return {
    volume,
    area: surface.Mass(),
    centre: [centre.X(), centre.Y(), centre.Z()],
    moments: volume > 0 ? momentsAbout(oc, solid, centre) : [0, 0, 0],
    box: [box.GetXMin(), box.GetYMin(), box.GetZMin(), box.GetXMax(), box.GetYMax(), box.GetZMax()],
    faces,
  };
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

/** Meshes a shape for display; the faces in the order in which an explorer meets them. */
export function meshShape(oc: OpenCascadeInstance, shape: TopoDS_Shape, { box }: BodyFacts): BodyMesh {
  const diagonal = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  const chord = Math.min(CHORD.most, Math.max(CHORD.least, diagonal * CHORD.part));
  using faces = oc.ReplicadMeshExtractor.extract(shape, chord, ANGLE, false);
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
  using lines = oc.ReplicadEdgeMeshExtractor.extract(shape, chord, ANGLE);
  return { ...result, edges: floats(lines.getLinesPtr(), lines.getLinesSize()) };
}
