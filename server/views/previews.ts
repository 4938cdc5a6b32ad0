import type { LinkState } from '#core/files/links/resolve';
import type { BodyFacts } from '#core/geometry/shape/body';
import type { PiecesOfCut } from '#core/jobs/cut/operation';
import { catchingPoints } from '#core/jobs/cut/snaps';
import type { FollowLine, FollowOutline } from '#core/jobs/follow/outline';
import type { GroupsOutline } from '#core/jobs/groups/plan';
import type { HandOffPlan } from '#core/jobs/handoff/plan';
import type { LiteOutline } from '#core/jobs/lite/plan';
import type { SealOutline } from '#core/jobs/seal/plan';
import type { SplitOutline } from '#core/jobs/split/plan';
import { followScene } from './follow-view';
import { type GroupsPreview, groupsPreview } from './groups-view';
import { type LitePreview, litePreview } from './lite-view';
import { keptPicture, type PreviewHome } from './preview-home';
import type { SceneData } from './scene';
import { type SealPreview, sealPreview } from './seal-view';
import { outlineView, type SplitOutlineView } from './split-view';

/** A piece of a body that was cut. */
export interface PieceView {
  path: string;
  facts: BodyFacts;
  sliver: string | null;
  /** Corners and middles of edges, mm. */
  snaps: [number, number, number][];
}

/** The pieces of a body that was cut, and the address of their picture. */
export interface CutPreview {
  pieces: PieceView[];
  url: string;
}

/** A source held against its files: every body of it in the table and on the stage. */
export interface FollowPreview {
  lines: FollowLine[];
  scene: SceneData;
}

/** What goes into a package, and what would be missing from it. */
export interface PackagePreview {
  rootInside: string;
  notes: string[];
  files: { from: string; to: string; why: string; bytes: number }[];
  broken: { holder: string; written: string; state: LinkState; reason: string }[];
}

/** How previews that are more than plain data reach their pages. */
const VIEWS: {
  // biome-ignore lint/suspicious/noExplicitAny: each operation has a preview of its own
  readonly [operation: string]: (preview: any, home: PreviewHome) => Promise<unknown>;
} = {
  split: async (outline: SplitOutline, { project }): Promise<SplitOutlineView> =>
    outlineView(project, outline),
  cut: async ({ pieces, gltf }: PiecesOfCut, home): Promise<CutPreview> => ({
    pieces: pieces.map(({ path, facts, sliver, features }) => ({
      path,
      facts,
      sliver,
      snaps: catchingPoints(features),
    })),
    url: await keptPicture(home, gltf),
  }),
  groups: async (outline: GroupsOutline): Promise<GroupsPreview> => groupsPreview(outline),
  seal: (outline: SealOutline, home): Promise<SealPreview> => sealPreview(outline, home),
  lite: (outline: LiteOutline, home): Promise<LitePreview> => litePreview(outline, home),
  package: async ({ rootInside, files, broken, notes }: HandOffPlan): Promise<PackagePreview> => ({
    rootInside,
    notes,
    files: files.map(({ from, to, why, bytes }) => ({ from, to, why, bytes })),
    broken: broken.map(({ holder, written, state, reason }) => ({ holder, written, state, reason })),
  }),
  follow: async (outline: FollowOutline | null, { project, projectId, shapes }): Promise<FollowPreview> =>
    outline === null
      ? { lines: [], scene: { bodies: [], instances: [] } }
      : { lines: outline.lines, scene: followScene(project, await shapes(), projectId, outline) },
};

/** A preview as plain data. */
export async function previewView(operation: string, preview: unknown, home: PreviewHome): Promise<unknown> {
  const view = VIEWS[operation];
  return view ? view(preview, home) : preview;
}
