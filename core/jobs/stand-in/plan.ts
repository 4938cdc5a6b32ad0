import { baseName } from '#core/files/links/paths';
import { usersOf } from '#core/geometry/bodies/rewire-users';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { structuredFormatOf } from '#core/project/formats/formats';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { canTakePlaceBy } from '#core/project/scan/project';
import { topProducts } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';
import type { StandInChoices } from './choices';

/** What can take the place of a file, and where. */
export interface StandInOutline {
  /** Lite models of the file, or what it is a lite model of. */
  candidates: string[];
  instead: string | null;
  /** Assemblies that place the file, and how often. */
  users: { path: string; occurrences: number }[];
}

/** Plans to let a file take the place of another. @throws Refusal for a file that is not there, or has no product */
export async function planStandIn(
  context: Planning,
  { file, instead: wanted, in: only }: StandInChoices,
): Promise<Planned<StandInOutline>> {
  const { project, draft } = context;
  if (!project.files.has(file)) throw new Refusal(`There is no file ${file}.`);
  const candidates = await counterparts(context, file);
  if (wanted !== null && !project.files.has(wanted)) throw new Refusal(`There is no file ${wanted}.`);
  const instead = wanted ?? candidates[0] ?? null;
  const users = [...usersOf(project, file)];
  const outline: StandInOutline = {
    candidates,
    instead,
    users: users.map(([path, links]) => ({
      path,
      occurrences: links.reduce((sum, { occurrences }) => sum + occurrences, 0),
    })),
  };
  const nothing = async (hindrance: string) => ({
    change: await draft.finish('Nothing changes'),
    preview: outline,
    hindrance,
  });
  if (instead === null) return nothing(`${baseName(file)} has no lite model, and is none. Make one first.`);
  if (users.length === 0) return nothing(`No assembly places ${baseName(file)}.`);
  const [top] = topProducts(project, instead);
  if (!top) throw new Refusal(`${instead} holds neither a part nor an assembly.`);
  const meant = users.filter(([holder]) => only === null || holder === only);
  if (meant.length === 0) throw new Refusal(`${only} does not place ${file}.`);
  for (const [holder, links] of meant) {
    for (const { kind, written } of links) await draft.retarget({ holder, kind, written }, instead);
    const named = links
      .flatMap(({ definitions }) => definitions)
      .map((definition) => ({ definition, id: top.product.id, name: top.product.name }));
    await draft.edit(holder, (bytes) => structuredFormatOf(holder, bytes).withProductsNamed(bytes, named));
  }
  const change = await draft.finish(
    `${baseName(instead)} in the place of ${baseName(file)} in ${meant.length === 1 ? baseName(meant[0]![0]) : `${meant.length} assemblies`}`,
  );
  return { change, preview: outline };
}

/** The lite models of a file, and the file that it is a lite model of. */
async function counterparts({ project, draft }: Planning, file: string): Promise<string[]> {
  const found = new Set<string>();
  for (const link of project.uses.get(file) ?? [])
    if (link.to !== null && canTakePlaceBy(link)) found.add(link.to);
  for (const link of project.usedBy.get(file) ?? [])
    if (canTakePlaceBy(link) && link.holder !== MANIFEST_NAME) found.add(link.holder);
  if (draft.has(MANIFEST_NAME))
    for (const made of readManifest(await draft.read(MANIFEST_NAME)).outside) {
      const root = made.sources[0]?.path;
      if (root === file) found.add(made.file);
      if (made.file === file && root !== undefined) found.add(root);
    }
  return [...found].filter((path) => project.files.has(path)).sort();
}
