import { unpackedStep } from '#core/files/archive/packed-step';
import { Part21File } from '#core/files/part21/file';
import { choicesOfRecipe } from '#core/jobs/split/choices';
import { openSource } from '#core/jobs/split/plan';
import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import { additionsOf } from './additions';
import { type ComponentContent, type FollowOutline, outlineFollow, type TakenVersion } from './outline';
import { recipeIn, tiesTo } from './ties';

/**
 * Reads a source and everything that came out of it, and matches them.
 * @throws Refusal for a source that is not there, or while shapes are still being prepared; Part21Error for one that cannot be read
 */
export async function readOutline(context: PlanContext, path: string): Promise<FollowOutline> {
  const { project, draft } = context;
  if (!project.files.has(path)) throw new Refusal(`There is no file ${path} any more.`);
  const ties = tiesTo(project, path);
  const files = [path, ...ties.components.map((component) => component.path)];
  if (ties.assembly) files.push(ties.assembly.path);
  for (const file of files) draft.restOn(file);
  const versions = files.map((file) => project.files.get(file)!.sha256);
  return context.remember(`outline of ${path} ${versions.join(' ')}`, async () => {
    const measured = await context.measured(path);
    const contents = new Map<string, ComponentContent>();
    for (const [n, { path: component, link }] of ties.components.entries()) {
      await context.progress('Comparing the files with their source', n, 2 * ties.components.length);
      const additions =
        link.state === 'behind'
          ? additionsOf(Part21File.read(unpackedStep(await draft.read(component))))
          : [];
      contents.set(component, { measured: await context.measured(component), additions });
    }
    return outlineFollow(
      project,
      await openSource(draft, path, choicesOfRecipe(recipeIn(ties)).product),
      measured,
      (component) => contents.get(component)!,
      await takenVersions(context, path),
    );
  });
}

/** The versions of a source that were taken, if they were ever here: they tell what was changed since. */
async function takenVersions(
  { project, olderVersion }: PlanContext,
  path: string,
): Promise<Map<string, TakenVersion>> {
  const { assembly, components } = tiesTo(project, path);
  const hashes = new Set([assembly?.link.source?.sha256, ...components.map(({ memory }) => memory.sha256)]);
  const versions = new Map<string, TakenVersion>();
  for (const sha256 of hashes) {
    const version = typeof sha256 === 'string' ? await olderVersion(path, sha256) : undefined;
    if (!version) continue;
    const { scan, measured } = version;
    versions.set(sha256!, { measured, bodies: scan.products.flatMap(({ bodies }) => bodies) });
  }
  return versions;
}
