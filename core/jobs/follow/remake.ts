import { baseName } from '#core/files/links/paths';
import type { FollowOutline } from '#core/jobs/split/newer/outline';
import { groupBy } from '#core/multimap';
import type { Operation, Remade, Remaking } from '#core/operation';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { madeBy, type Recipe } from '#core/product/source/memory';
import { MANIFEST_NAME, type MadeForOutside, OUTSIDE, readManifest } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import type { FollowChoices } from './choices';

/** The operation of a name, with how its files are made again, if they can be. */
// biome-ignore lint/suspicious/noExplicitAny: each has choices and a preview of its own
export type OperationByName = (name: string) => Operation<any, any, any> | undefined;

/**
 * Plans to make everything again that came out of a source.
 * @throws Refusal for a source that is not there, and for one that nothing came out of
 */
export async function planFollow(
  context: PlanContext,
  { source, removeGone, take }: FollowChoices,
  operations: OperationByName,
): Promise<Planned<FollowOutline | null>> {
  const { project, draft } = context;
  if (!project.files.has(source)) throw new Refusal(`There is no file ${source} any more.`);
  const derived = (project.usedBy.get(source) ?? []).filter((link) => link.source);
  if (derived.length === 0) throw new Refusal(`No file of this project came out of ${source}.`);
  let outline: FollowOutline | undefined;
  const done: string[] = [];
  for (const [made, links] of groupBy(derived, (link) => madeBy(link.source!))) {
    const asked = { source, links, removeGone, take };
    const remade =
      made === OUTSIDE
        ? await remakeForOutside(context, asked, operations)
        : await remakeBy(context, asked, made, operations(made));
    outline = (remade.outline as FollowOutline | undefined) ?? outline;
    if (remade.words !== null) done.push(remade.words);
  }
  const change = await draft.finish(
    done.length > 0
      ? `Brought up to date with ${baseName(source)}: ${done.join('; ')}`
      : 'Every file is at the newest version of its source',
  );
  return { change, preview: outline ?? null };
}

/** Files that an operation made, which they name in themselves. */
async function remakeBy(
  context: PlanContext,
  asked: Remaking,
  name: string,
  operation: ReturnType<OperationByName>,
): Promise<Remade> {
  const behind = asked.links.filter(({ state }) => state === 'behind');
  if (!operation?.madeAgain) {
    for (const { holder } of behind) warnOfUnknown(context, holder, name);
    return { words: null };
  }
  if ('remake' in operation.madeAgain) return operation.madeAgain.remake(context, asked);
  const [one, several] = operation.madeAgain.what;
  const files = new Set(behind.map(({ holder }) => holder));
  for (const file of files) {
    const ties = context.project.uses.get(file) ?? [];
    const tie = ties.find(({ kind, source }) => kind === 'source' && source?.recipe?.operation === name);
    if (!tie?.source?.recipe)
      throw new Refusal(`${file} does not say how it was made. Make the ${one} anew.`);
    if (tie.to === null)
      throw new Refusal(`${file} was made from ${tie.written}, which is not there. Repair that link first.`);
    await remakeFile(context, operation, tie.source.recipe, tie.to, file);
  }
  if (files.size === 0) return { words: null };
  return { words: `${files.size} ${files.size === 1 ? one : several} made again` };
}

/** Files for strangers: their recipes stand in the manifest, and are run on the newest versions of everything they were made from. */
async function remakeForOutside(
  context: PlanContext,
  { source }: Remaking,
  operations: OperationByName,
): Promise<Remade> {
  const { draft, project } = context;
  if (!draft.has(MANIFEST_NAME)) return { words: null };
  const behind = readManifest(await draft.read(MANIFEST_NAME)).outside.filter(({ sources }) =>
    sources.some(({ path, sha256 }) => path === source && project.files.get(path)?.sha256 !== sha256),
  );
  for (const made of behind) {
    const { file, operation } = made;
    if (operations(operation)?.madeAgain) await remakeOutside(context, made, operations);
    else warnOfUnknown(context, file, operation);
  }
  if (behind.length === 0) return { words: null };
  return { words: `${behind.length} ${behind.length === 1 ? 'file' : 'files'} for outside made again` };
}

/**
 * Makes one file for strangers again, from the newest versions of what it was made from.
 * @throws Refusal where its original or its operation is not there
 */
export async function remakeOutside(
  context: PlanContext,
  { file, operation: name, choices, sources }: MadeForOutside,
  operations: OperationByName,
): Promise<void> {
  const root = sources[0]?.path;
  if (root === undefined || !context.project.files.has(root))
    throw new Refusal(`${file} was made from ${root ?? 'nothing'}, which is not there.`);
  const operation = operations(name);
  if (!operation?.madeAgain) throw new Refusal(unknownWords(file, name));
  await remakeFile(context, operation, { operation: name, choices }, root, file);
}

/** Makes one file again from its original: the operation's own plan is run with the choices of its recipe. */
async function remakeFile(
  context: PlanContext,
  { choices: schema, plan }: NonNullable<ReturnType<OperationByName>>,
  { choices }: Recipe,
  original: string,
  file: string,
): Promise<void> {
  const read = schema.safeParse({ ...(choices as object), file: original });
  if (!read.success) throw new Refusal(`The recipe of ${file} cannot be read. Make it anew.`);
  await plan({ ...context, remadeFile: file }, read.data);
}

function warnOfUnknown({ draft }: PlanContext, file: string, operation: string): void {
  draft.warn(unknownWords(file, operation));
}

function unknownWords(file: string, operation: string): string {
  return `${file} was made by “${operation}”, which cannot be done again here. It stays as it is.`;
}
