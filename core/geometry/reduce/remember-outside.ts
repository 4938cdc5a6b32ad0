import type { PlanContext } from '#core/planning';
import type { Recipe } from '#core/product/source/memory';
import { manifestOn } from '#core/project/change/project-manifest';
import { MANIFEST_NAME, withMade } from '#core/project/formats/manifest';

/**
 * Keeps the tie of a file for strangers on our side, in the project's manifest.
 * @param sources the file that was made lighter first
 */
export async function rememberOutside(
  { draft, project, now }: PlanContext,
  file: string,
  recipe: Recipe,
  sources: readonly string[],
): Promise<void> {
  const before = await manifestOn(draft);
  draft.write(
    MANIFEST_NAME,
    withMade(before, {
      file,
      made: now.toISOString().slice(0, 19),
      ...recipe,
      sources: sources.map((path) => ({ path, sha256: project.files.get(path)!.sha256 })),
    }),
  );
  draft.linked({ holder: MANIFEST_NAME, kind: 'attachment', written: file }, file);
  for (const path of sources) draft.linked({ holder: MANIFEST_NAME, kind: 'source', written: path }, path);
}
