import type { SceneData, ScenePictures } from '#core/geometry/scene';
import type { FollowLine, FollowOutline } from '#core/jobs/split/newer/outline';
import { placementOfBody } from '#core/jobs/split/newer/ties';
import type { PreviewHome } from '#core/planned';
import { IDENTITY } from '#core/product/matrix';
import type { Project } from '#core/project/scan/project';

/** A source held against its files: every body of it in the table and on the stage. */
export interface FollowPreview {
  lines: FollowLine[];
  scene: SceneData;
}

export async function followPreview(
  outline: FollowOutline | null,
  { project, pictures }: PreviewHome,
): Promise<FollowPreview> {
  if (outline === null) return { lines: [], scene: { bodies: [], instances: [] } };
  return { lines: outline.lines, scene: followScene(project, await pictures(), outline) };
}

/**
 * The newest version of a source on the stage, a row for each line of the plan: what changed, moved or is new stands out,
 * what is gone is shown where it was.
 */
function followScene(
  project: Project,
  pictures: ScenePictures,
  { source, lines, ties }: FollowOutline,
): SceneData {
  const scene: SceneData = { bodies: [], instances: [] };
  const newest = project.files.get(source.path)!.sha256;
  for (const [row, line] of lines.entries()) {
    const tone = toneOf(line);
    if (line.newer) {
      const body = source.bodies.find(({ id }) => id === line.newer!.id)!;
      scene.bodies.push(pictures.of(newest, body.id, body));
      scene.instances.push({
        row,
        body: scene.bodies.length - 1,
        placement: body.placement ?? IDENTITY,
        name: nameOf(line),
        tone,
      });
      continue;
    }
    const component = ties.components.find(({ path }) => path === line.component);
    const at = component?.placings.findIndex(({ id }) => id === line.older!.id) ?? -1;
    const body = component?.bodies?.[at];
    if (!component || !body) continue;
    scene.bodies.push(pictures.of(project.files.get(component.path)!.sha256, body.id, { colour: null }));
    scene.instances.push({
      row,
      body: scene.bodies.length - 1,
      placement: placementOfBody(component, at),
      name: `${nameOf(line)} (gone)`,
      tone,
    });
  }
  return scene;
}

function toneOf({ change }: FollowLine): 'ghost' | 'focus' | undefined {
  return change === 'unchanged' ? undefined : change === 'gone' ? 'ghost' : 'focus';
}

function nameOf({ older, newer }: FollowLine): string {
  return newer?.name || older?.name || `Body #${newer?.id ?? older?.id}`;
}
