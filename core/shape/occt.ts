import type { OpenCascadeInstance, Standard_Transient, TopoDS_Shape } from 'replicad-opencascadejs';
import type { BodyFacts, BodyMesh, BodyShape } from './kernel';
import { featuresOf } from './occt-features';

/** Chord error of a mesh, as part of the body's diagonal, and its bounds in millimetres. */
const CHORD = { part: 0.0012, least: 0.005, most: 2 };
/** Largest angle between neighbouring normals, radians. */
const ANGLE = 0.3;

/** Starts the kernel's WebAssembly in this thread. Takes about half a second and 140 MB. */
export async function startOcct(): Promise<OpenCascadeInstance> {
  const { default: init } = await import('replicad-opencascadejs');
  return init({ print: () => {}, printErr: () => {} });
}

/** A body that the kernel can make nothing of. */
class BodyTrouble extends Error {}

/** A STEP file as the kernel read it, ready to give single bodies. */
export class OcctStepFile {
  private readonly reader;
  private readonly entities = new Map<number, Standard_Transient>();

  /** @throws Error when the kernel cannot read the file at all */
  constructor(
    private readonly oc: OpenCascadeInstance,
    step: Uint8Array,
    wanted: ReadonlySet<number>,
  ) {
    oc.FS.writeFile('input.stp', step);
    this.reader = new oc.STEPControl_Reader();
    const status = this.reader.ReadFile('input.stp');
    oc.FS.unlink('input.stp');
    if (status !== oc.IFSelect_ReturnStatus.IFSelect_RetDone)
      throw new Error('The geometry kernel cannot read this file.');
    const model = this.reader.StepModel();
    for (let n = 1, count = model.NbEntities(); n <= count; n++) {
      const entity = model.Value(n);
      const id = model.IdentLabel(entity);
      if (wanted.has(id)) this.entities.set(id, entity);
    }
  }

  /** Meshes and measures one body; failures of the kernel come back as `error`. */
  shape(body: number, withMesh = true): BodyShape {
    try {
      using shape = this.translate(body);
      const facts = measure(this.oc, shape);
      return {
        body,
        facts,
        features: featuresOf(this.oc, shape),
        mesh: withMesh ? mesh(this.oc, shape, facts) : null,
      };
    } catch (error) {
      if (error instanceof BodyTrouble) return { body, error: error.message };
      return { body, error: `The geometry kernel failed on this body: ${this.describe(error)}` };
    }
  }

  /** Volume that two bodies have in common, mm³, by an exact boolean. */
  commonVolume(a: number, b: number): number {
    using first = this.translate(a);
    using second = this.translate(b);
    using common = new this.oc.BRepAlgoAPI_Common(first, second);
    using shape = common.Shape();
    return measure(this.oc, shape).volume;
  }

  private translate(body: number): TopoDS_Shape {
    const entity = this.entities.get(body);
    if (!entity) throw new BodyTrouble('The geometry kernel does not find this body in the file.');
    this.reader.ClearShapes();
    if (!this.reader.TransferEntity(entity))
      throw new BodyTrouble('The geometry kernel cannot translate this body.');
    const shape = this.reader.OneShape();
    if (shape.IsNull()) throw new BodyTrouble('The geometry kernel finds no shape in this body.');
    return shape;
  }

  private describe(error: unknown): string {
    if (error instanceof Error && !(error instanceof WebAssembly.RuntimeError)) return error.message;
    try {
      const [type, message] = this.oc.getExceptionMessage(error as never) as unknown as [string, string];
      return [type, message].filter(Boolean).join(': ');
    } catch {
      return String(error);
    }
  }

  [Symbol.dispose](): void {
    this.reader.delete();
  }
}

function measure(oc: OpenCascadeInstance, shape: TopoDS_Shape): BodyFacts {
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
    box: [box.GetXMin(), box.GetYMin(), box.GetZMin(), box.GetXMax(), box.GetYMax(), box.GetZMax()],
    faces,
  };
}

function mesh(oc: OpenCascadeInstance, shape: TopoDS_Shape, { box }: BodyFacts): BodyMesh {
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
