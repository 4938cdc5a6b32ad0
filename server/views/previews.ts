import type { FollowLine, FollowOutline } from '#core/follow/outline';
import type { Project } from '#core/scan/project';
import type { SplitOutline } from '#core/split/plan';
import type { ShapeState } from '#server/jobs/shapes';
import { followScene } from './follow-view';
import { outlineView, type SplitOutlineView } from './split-view';
import type { SceneData } from './structure-view';

/** What previews are made for pages with. */
export interface PreviewHome {
  project: Project;
  projectId: string;
  shapes(): Promise<ReadonlyMap<string, ShapeState>>;
}

/** A source held against its files: every body of it in the table and on the stage. */
export interface FollowPreview {
  lines: FollowLine[];
  scene: SceneData;
}

/** How previews that are more than plain data reach their pages. */
const VIEWS: {
  // biome-ignore lint/suspicious/noExplicitAny: each operation has a preview of its own
  readonly [operation: string]: (preview: any, home: PreviewHome) => Promise<unknown>;
} = {
  split: async (outline: SplitOutline, { project }): Promise<SplitOutlineView> =>
    outlineView(project, outline),
  follow: async (outline: FollowOutline, { project, projectId, shapes }): Promise<FollowPreview> => ({
    lines: outline.lines,
    scene: followScene(project, await shapes(), projectId, outline),
  }),
};

/** A preview as plain data. */
export async function previewView(operation: string, preview: unknown, home: PreviewHome): Promise<unknown> {
  const view = VIEWS[operation];
  return view ? view(preview, home) : preview;
}
