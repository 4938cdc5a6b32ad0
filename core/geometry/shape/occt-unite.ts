import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { type Box, diagonalOf, isBoxIn } from '#core/product/box';
import { Refusal } from '#core/refusal';
import type { BodyFacts, BodyMesh } from './body';
import { isValidShape } from './occt-check';
import { measureShape, meshShape, volumeOf } from './occt-measure';
import { writeStep } from './occt-step';
import type { Pin } from './unite';

/** One solid that came of it. */
export interface UnitedSolid {
  facts: BodyFacts;
  mesh: BodyMesh;
  isValid: boolean;
  /** Hollows that were filled. */
  hollows: number;
  /** As STEP text in millimetres. */
  step: Uint8Array;
}

/** What the kernel made of several solids. */
export interface OcctUnion {
  /** The largest first. */
  solids: UnitedSolid[];
  /** Bodies that are no solids, and are left out. */
  surfaces: number;
}

/** Part of a volume by which the kernel may be off. */
const LOST = 1e-4;

/**
 * Unites all solids that a STEP file places, with one boolean. Hollows that nothing leads to are filled: every solid keeps its outer shell
 * only, and those in which a guest stands.
 * @param pins cylinders that are united with them
 * @param guests boxes of what is no part of the solids and stands in hollows of theirs
 * @throws Refusal when the kernel cannot read the file, or cannot unite it
 */
export function uniteSolids(
  oc: OpenCascadeInstance,
  step: Uint8Array,
  { pins, guests }: { pins: readonly Pin[]; guests: readonly Box[] },
  onStage: (doing: string) => void,
): OcctUnion {
  onStage('Reading the bodies');
  const { solids, surfaces } = readSolids(oc, step);
  for (const pin of pins) solids.push(pinShape(oc, pin));

  onStage(`Uniting ${solids.length} solids`);
  const united = solids.length === 1 ? solids[0]! : fused(oc, solids);
  onStage('Looking at the result');
  const made = explored(oc, united, 'TopAbs_SOLID').map((solid) => {
    const shells = explored(oc, solid, 'TopAbs_SHELL');
    const kept = shells.length === 1 ? shells : shellsToKeep(oc, shells, guests);
    const outer = kept.length === shells.length ? solid : solidOf(oc, kept);
    // Before it is meshed: the check would judge the triangles, too.
    const isValid = isValidShape(oc, outer);
    const mesh = meshShape(oc, outer);
    return {
      facts: measureShape(oc, outer, mesh),
      mesh,
      isValid,
      hollows: shells.length - kept.length,
      step: writeStep(oc, [outer], 'MM'),
    };
  });
  made.sort((a, b) => b.facts.volume - a.facts.volume);
  // What is united is no less than its largest part.
  const least = (1 - LOST) * Math.max(...solids.map((solid) => volumeOf(oc, solid)));
  if (made.reduce((sum, { facts }) => sum + facts.volume, 0) < least)
    throw new Refusal('Uniting these bodies exactly would lose material.');
  return { solids: made, surfaces };
}

/** The solids that a STEP file places, where they stand. */
function readSolids(oc: OpenCascadeInstance, step: Uint8Array): { solids: TopoDS_Shape[]; surfaces: number } {
  using reader = new oc.STEPControl_Reader();
  oc.FS.writeFile('unite.stp', step);
  const status = reader.ReadFile('unite.stp');
  oc.FS.unlink('unite.stp');
  if (status !== oc.IFSelect_ReturnStatus.IFSelect_RetDone)
    throw new Refusal('What is to be united cannot be read.');
  using range = new oc.Message_ProgressRange();
  reader.TransferRoots(range);
  using whole = reader.OneShape();
  const solids = explored(oc, whole, 'TopAbs_SOLID');
  if (solids.length === 0) throw new Refusal('There is no solid to be sealed.');
  return { solids, surfaces: looseShells(oc, whole) };
}

function fused(oc: OpenCascadeInstance, solids: readonly TopoDS_Shape[]): TopoDS_Shape {
  using fuse = new oc.BRepAlgoAPI_Fuse();
  using first = new oc.NCollection_List_TopoDS_Shape();
  using rest = new oc.NCollection_List_TopoDS_Shape();
  first.Append(solids[0]!);
  for (const solid of solids.slice(1)) rest.Append(solid);
  fuse.SetArguments(first);
  fuse.SetTools(rest);
  fuse.Build();
  if (fuse.HasErrors()) throw new Refusal('These bodies cannot be united exactly.');
  const before = fuse.Shape();
  const volume = volumeOf(oc, before);
  // Faces that lie in one surface become one, so that no seam tells of parts; never at the price of a valid solid.
  try {
    fuse.SimplifyResult(true, true, 1e-6);
    const simple = fuse.Shape();
    if (isValidShape(oc, simple) && Math.abs(volumeOf(oc, simple) - volume) < 1e-6 * Math.abs(volume))
      return simple;
  } catch {
    // What it was before is as good.
  }
  return before;
}

/** The largest of some shells, and after it those that a guest stands in. */
function shellsToKeep(
  oc: OpenCascadeInstance,
  shells: readonly TopoDS_Shape[],
  guests: readonly Box[],
): TopoDS_Shape[] {
  const sized = shells.map((shell) => ({ shell, box: boxOf(oc, shell) }));
  sized.sort((a, b) => diagonalOf(b.box) - diagonalOf(a.box));
  const [outer, ...inner] = sized;
  return [outer!, ...inner.filter(({ box }) => guests.some((guest) => isBoxIn(guest, box)))].map(
    ({ shell }) => shell,
  );
}

function boxOf(oc: OpenCascadeInstance, shape: TopoDS_Shape): Box {
  using box = new oc.Bnd_Box();
  oc.BRepBndLib.Add(shape, box, false);
  return [box.GetXMin(), box.GetYMin(), box.GetZMin(), box.GetXMax(), box.GetYMax(), box.GetZMax()];
}

/** The solid inside the first of some shells, without what the others hold. */
function solidOf(oc: OpenCascadeInstance, [outer, ...inner]: readonly TopoDS_Shape[]): TopoDS_Shape {
  using maker = new oc.BRepBuilderAPI_MakeSolid(oc.TopoDS.Shell(outer!));
  for (const shell of inner) maker.Add(oc.TopoDS.Shell(shell));
  return maker.Solid();
}

function explored(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  what: 'TopAbs_SOLID' | 'TopAbs_SHELL',
): TopoDS_Shape[] {
  const found: TopoDS_Shape[] = [];
  using explorer = new oc.TopExp_Explorer(shape, oc.TopAbs_ShapeEnum[what]);
  for (; explorer.More(); explorer.Next()) found.push(explorer.Current());
  return found;
}

/** Shells that belong to no solid. */
function looseShells(oc: OpenCascadeInstance, shape: TopoDS_Shape): number {
  let count = 0;
  using explorer = new oc.TopExp_Explorer(
    shape,
    oc.TopAbs_ShapeEnum.TopAbs_SHELL,
    oc.TopAbs_ShapeEnum.TopAbs_SOLID,
  );
  for (; explorer.More(); explorer.Next()) count++;
  return count;
}

function pinShape(oc: OpenCascadeInstance, { at, direction, length, radius }: Pin): TopoDS_Shape {
  using point = new oc.gp_Pnt(...at);
  using along = new oc.gp_Dir(...direction);
  using axes = new oc.gp_Ax2(point, along);
  using maker = new oc.BRepPrimAPI_MakeCylinder(axes, radius, length);
  return maker.Shape();
}

/** Meshes every solid that a STEP file places, no further off than a chord, mm. */
export function meshSolids(oc: OpenCascadeInstance, step: Uint8Array, chord: number): BodyMesh[] {
  const { solids } = readSolids(oc, step);
  return solids.map((solid) => meshShape(oc, solid, chord));
}
