import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { type Box, diagonalOf, doBoxesMeet, isBoxIn, middleOf } from '#core/product/box';
import { Refusal } from '#core/refusal';
import type { BodyFacts, BodyMesh } from './body';
import { isBreakdown } from './breakdown';
import { isValidShape } from './occt-check';
import { cylinderShape } from './occt-cylinder';
import { explored } from './occt-explore';
import { measureShape, meshShape, volumeOf } from './occt-measure';
import { simplifiedResult } from './occt-simplify';
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
  /** The largest first; none where the kernel failed. */
  solids: UnitedSolid[];
  /** Bodies that are no solids, and are left out. */
  surfaces: number;
  /** Boxes of the solids that were united, in the order of the file, mm. */
  boxes: Box[];
  /** Boxes of faces, edges and vertices of the result that do not fit each other, mm. */
  bad: Box[];
}

/** What is united, and how: positions are those of the solids in the file. */
export interface UnionRequest {
  step: Uint8Array;
  /** Cylinders that are united with them, mm. */
  pins: readonly Pin[];
  /** Boxes of what is no part of the solids and stands in hollows that have to stay, mm. */
  guests: readonly Box[];
  /** Solids that are made a little larger or smaller about their middle: by so much at their ends, mm. */
  nudged?: readonly { solid: number; by: number }[];
  /** Solids that are left out; another file has something in place of them. */
  replaced?: { solids: readonly number[]; by: Uint8Array };
}

/**
 * Unites all solids that a STEP file places, with one boolean. Hollows that nothing leads to are filled: every solid keeps its outer shell
 * only, and those in which a guest stands.
 * @throws Refusal when the kernel cannot read the file
 */
export function uniteSolids(
  oc: OpenCascadeInstance,
  { step, pins, guests, nudged = [], replaced }: UnionRequest,
  onStage: (doing: string) => void,
): OcctUnion {
  onStage('Reading the bodies');
  const { solids, surfaces } = readSolids(oc, step);
  const boxes = solids.map((solid) => boxOf(oc, solid));
  for (const { solid, by } of nudged) solids[solid] = nudgedShape(oc, solids[solid]!, boxes[solid]!, by);
  const parts = solids.filter((_, n) => !replaced?.solids.includes(n));
  if (replaced) parts.push(...readSolids(oc, replaced.by).solids);
  for (const pin of pins) parts.push(cylinderShape(oc, pin));

  onStage(`Uniting ${parts.length} solids`);
  const united = parts.length === 1 ? parts[0]! : fused(oc, parts);
  if (!united) return { solids: [], surfaces, boxes, bad: [] };
  onStage('Looking at the result');
  const bad: Box[] = [];
  const made = explored(oc, united, 'TopAbs_SOLID').map((solid) => {
    const shells = explored(oc, solid, 'TopAbs_SHELL');
    const kept = shells.length === 1 ? shells : shellsToKeep(oc, shells, guests);
    const outer = kept.length === shells.length ? solid : solidOf(oc, kept);
    // Before it is meshed: the check would judge the triangles, too.
    const isValid = isValidShape(oc, outer);
    if (!isValid) bad.push(...badPlaces(oc, outer));
    const mesh = meshShape(oc, outer);
    return {
      facts: measureShape(oc, outer, mesh),
      mesh,
      isValid,
      hollows: shells.length - kept.length,
      step: writeStep(oc, [outer], 'MM'),
    };
  });
  // Where surfaces nearly lie on each other the kernel leaves crumbs, which are no part of anything.
  const least = CRUMB * Math.min(...solids.map((solid) => volumeOf(oc, solid)));
  const whole = made.filter(({ facts }) => facts.volume > least);
  whole.sort((a, b) => b.facts.volume - a.facts.volume);
  return { solids: whole, surfaces, boxes, bad };
}

/**
 * Which of the solids that a STEP file places cannot be united with a neighbour: of each pair that the kernel fails on the smaller one.
 * Cost grows with the pairs whose boxes meet.
 */
export function unitingTrouble(oc: OpenCascadeInstance, step: Uint8Array): number[] {
  const { solids } = readSolids(oc, step);
  const boxes = solids.map((solid) => boxOf(oc, solid));
  const found = new Set<number>();
  for (let a = 0; a < solids.length; a++)
    for (let b = a + 1; b < solids.length; b++) {
      if (found.has(a) || found.has(b) || !doBoxesMeet(boxes[a]!, boxes[b]!)) continue;
      const united = fused(oc, [solids[a]!, solids[b]!]);
      const [one, other] = [volumeOf(oc, solids[a]!), volumeOf(oc, solids[b]!)];
      const isSound =
        united !== null &&
        isValidShape(oc, united) &&
        volumeOf(oc, united) > (1 - LOST) * Math.max(one, other);
      if (!isSound) found.add(one < other ? a : b);
    }
  return [...found];
}

/** What is smaller than this part of the smallest body is none. */
const CRUMB = 1e-3;
/** Part of a volume by which the kernel may be off. */
const LOST = 1e-4;

/** Boxes of what of a shape the kernel's check finds fault with. */
function badPlaces(oc: OpenCascadeInstance, shape: TopoDS_Shape): Box[] {
  using check = new oc.BRepCheck_Analyzer(shape, true, false, false);
  const found: Box[] = [];
  for (const what of ['TopAbs_FACE', 'TopAbs_EDGE', 'TopAbs_VERTEX'] as const)
    for (const part of explored(oc, shape, what)) {
      if (!check.IsValid(part)) found.push(boxOf(oc, part));
      part.delete();
    }
  return found.slice(0, MOST_BAD);
}

const MOST_BAD = 200;

function nudgedShape(oc: OpenCascadeInstance, solid: TopoDS_Shape, box: Box, by: number): TopoDS_Shape {
  using motion = new oc.gp_Trsf();
  using middle = new oc.gp_Pnt(...middleOf(box));
  motion.SetScale(middle, 1 + (2 * by) / Math.max(diagonalOf(box), 1e-3));
  using transform = new oc.BRepBuilderAPI_Transform(solid, motion, true);
  return transform.Shape();
}

/** The solids that a STEP file places, where they stand. */
export function readSolids(
  oc: OpenCascadeInstance,
  step: Uint8Array,
): { solids: TopoDS_Shape[]; surfaces: number } {
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

/** Solids as one, or several where they do not touch; null where the kernel fails. */
export function fused(oc: OpenCascadeInstance, solids: readonly TopoDS_Shape[]): TopoDS_Shape | null {
  using fuse = new oc.BRepAlgoAPI_Fuse();
  using first = new oc.NCollection_List_TopoDS_Shape();
  using rest = new oc.NCollection_List_TopoDS_Shape();
  first.Append(solids[0]!);
  for (const solid of solids.slice(1)) rest.Append(solid);
  fuse.SetArguments(first);
  fuse.SetTools(rest);
  try {
    fuse.Build();
    if (fuse.HasErrors()) return null;
  } catch (error) {
    if (isBreakdown(error)) throw error;
    return null;
  }
  return simplifiedResult(oc, fuse);
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

/** Meshes every solid that a STEP file places, no further off than a chord, mm. @param angle between neighbouring normals, radians */
export function meshSolids(
  oc: OpenCascadeInstance,
  step: Uint8Array,
  chord: number,
  angle?: number,
): BodyMesh[] {
  const { solids } = readSolids(oc, step);
  return solids.map((solid) => meshShape(oc, solid, chord, angle));
}
