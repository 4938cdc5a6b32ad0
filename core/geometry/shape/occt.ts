import type { OpenCascadeInstance, Standard_Transient, TopoDS_Shape } from 'replicad-opencascadejs';
import { Refusal } from '#core/refusal';
import type { BodyShape, WantedOfBody } from './body-shape';
import { isBreakdown } from './breakdown';
import type { CutPiece, CutStep } from './cut';
import { CutError } from './cut';
import { doubtAbout, impossibleVolume } from './doubt';
import { isValidShape } from './occt-check';
import { cutShape } from './occt-cut';
import { exactOf } from './occt-exact';
import { featuresOf } from './occt-features';
import { measureShape, meshShape, volumeOf } from './occt-measure';

/**
 * Starts the kernel's WebAssembly in this thread. Takes about half a second and 140 MB.
 * @param compiled where another thread has compiled it already
 */
export async function startOcct(compiled?: WebAssembly.Module): Promise<OpenCascadeInstance> {
  const { default: init } = await import('replicad-opencascadejs');
  return init({ print: () => {}, printErr: () => {}, ...(compiled && { instantiateWasm: using(compiled) }) });
}

/** How the library is given its WebAssembly: it calls back with what was made of it. */
function using(compiled: WebAssembly.Module) {
  return (
    imports: WebAssembly.Imports,
    onMade: (instance: WebAssembly.Instance, module: WebAssembly.Module) => void,
  ) => {
    WebAssembly.instantiate(compiled, imports).then((instance) => onMade(instance, compiled));
    return {};
  };
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
      throw new Refusal('The geometry of this file cannot be read.');
    const model = this.reader.StepModel();
    for (let n = 1, count = model.NbEntities(); n <= count; n++) {
      const entity = model.Value(n);
      const id = model.IdentLabel(entity);
      if (wanted.has(id)) this.entities.set(id, entity);
    }
  }

  /** Meshes and measures one body; failures of the kernel come back as `error`. */
  shape(
    body: number,
    { mesh: withMesh = true, details = 'all', check = false }: WantedOfBody = {},
  ): BodyShape {
    try {
      using shape = this.translate(body);
      // Before it is meshed: the check would judge the triangles, too.
      const isValid = check ? isValidShape(this.oc, shape) : undefined;
      const mesh = meshShape(this.oc, shape);
      const facts = measureShape(this.oc, shape, mesh);
      const error = this.isSolid(body) ? impossibleVolume(facts.volume) : null;
      if (error) return { body, error, mesh: withMesh ? mesh : null };
      return {
        body,
        facts: { ...facts, doubt: doubtAbout(facts, mesh) },
        features: details === 'none' ? [] : featuresOf(this.oc, shape),
        exact: details === 'all' ? exactOf(this.oc, shape) : { faces: [], edges: [] },
        mesh: withMesh ? mesh : null,
        ...(check && { isValid }),
      };
    } catch (error) {
      if (error instanceof BodyTrouble) return { body, error: error.message };
      if (isBreakdown(error)) throw error;
      return { body, error: `The geometry of this body could not be computed: ${this.describe(error)}` };
    }
  }

  /** Volume that two bodies have in common, mm³, by an exact boolean. */
  commonVolume(a: number, b: number): number {
    using first = this.translate(a);
    using second = this.translate(b);
    using common = new this.oc.BRepAlgoAPI_Common(first, second);
    using shape = common.Shape();
    return volumeOf(this.oc, shape);
  }

  /**
   * Cuts one body. @param unit of the pieces' STEP text, as the kernel names it
   * @throws CutError in words for the engineer
   */
  cut(body: number, steps: readonly CutStep[], unit: string, onStep: (done: number) => void): CutPiece[] {
    try {
      return cutShape(this.oc, this.translate(body), steps, (other) => this.translate(other), unit, onStep);
    } catch (error) {
      if (error instanceof CutError || isBreakdown(error)) throw error;
      throw new CutError(
        error instanceof BodyTrouble
          ? error.message
          : `This cut could not be computed: ${this.describe(error)}. Move the cut a little.`,
      );
    }
  }

  /** Whether the file calls it a solid, whatever the kernel could make of it. */
  private isSolid(body: number): boolean {
    return /brep|solid/i.test(this.reader.StepModel().TypeName(this.entities.get(body)!, true));
  }

  /** @throws BodyTrouble when the kernel makes nothing of it */
  translate(body: number): TopoDS_Shape {
    const entity = this.entities.get(body);
    if (!entity) throw new BodyTrouble('This body is not found in the file.');
    this.reader.ClearShapes();
    if (!this.reader.TransferEntity(entity))
      throw new BodyTrouble('The geometry of this body cannot be read.');
    const shape = this.reader.OneShape();
    if (shape.IsNull()) throw new BodyTrouble('There is no shape in this body.');
    return shape;
  }

  private describe(error: unknown): string {
    if (error instanceof Error) return error.message;
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
