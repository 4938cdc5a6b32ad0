import { someOf } from '#core/command/words';
import { baseName, freePath, joinPath, relativePath, stemOf } from '#core/files/links/paths';
import { addBodyPart, writeBodyFile } from '#core/geometry/bodies/body-file';
import { rewireUsers } from '#core/geometry/bodies/rewire-users';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { withoutBodies } from '#core/geometry/bodies/without-bodies';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { type Planning, timeStampOf } from '#core/planning';
import type { Matrix4 } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { AddPart, ComponentToWrite } from '#core/product/write-components';
import type { ChangeSet } from '#core/project/change/change-set';
import type { FileSet } from '#core/project/change/file-set';
import { newFileName } from '#core/project/formats/endings';
import { renewed } from '#core/project/formats/formats';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { materialOf, nameOfBody, recipeOf, type SplitChoices } from './choices';
import { bodiesIn, factsOfGroup, groupBodies, type SplitGroup } from './groups';
import { type ComponentName, nameComponents, splitFolder } from './names';
import { originOn } from './origin';
import { assemblySource, placingsOfGroup, takenIn } from './placings';

/** One component of a planned split. */
export interface SplitComponent extends ComponentName {
  group: SplitGroup;
  /** Product id. */
  id: string;
  origin: Matrix4;
}

/** What a split would make, before any bytes are written. */
export interface SplitOutline {
  source: SourcePart;
  components: SplitComponent[];
  folder: string;
  /** Path of the assembly that puts every body back where it was. */
  assembly: string;
  warnings: string[];
}

/**
 * Groups, names and places the bodies of a part. Pure; cost grows with bodies and their features.
 * @param groups the result of `groupBodies` for these choices, where it is known already
 * @throws Refusal when there is nothing to split, in words for the engineer
 */
export function outlineSplit(
  project: Project,
  source: SourcePart,
  choices: SplitChoices,
  measured: ReadonlyMap<number, MeasuredBody>,
  groups: readonly SplitGroup[] = groupBodies(source, choices, measured),
): SplitOutline {
  const { path } = source;
  const count = groups.reduce((sum, group) => sum + bodiesIn(group).length, 0);
  if (new Set(source.bodies.map(({ id }) => id)).size === 1)
    throw new Refusal(
      `${path} has one body: there is nothing to split off. To take that body apart, cut it.`,
    );
  if (count === 0)
    throw new Refusal(
      source.bodies.every(({ kind }) => kind === 'surface')
        ? `${path} has open surfaces only. Choose to include surfaces.`
        : 'No body is chosen.',
    );

  const folder = splitFolder(path, choices.folder);
  const taken = takenIn(project);
  const stem = stemOf(path);
  const assembly = freePath(joinPath(folder, newFileName(`${stem}-assembly`)), taken);
  const names = nameComponents(
    groups,
    choices,
    { stem, folder },
    (group) => factsOfGroup(group, measured),
    (file) => taken(file) || file.toLowerCase() === assembly.toLowerCase(),
  );
  const digits = Math.max(2, String(groups.length).length);
  const components = groups.map((group, n) => ({
    ...names[n]!,
    group,
    id: `${source.product.id || stem}-${String(n + 1).padStart(digits, '0')}`,
    origin: originOn(choices.origin, {
      facts: factsOfGroup(group, measured),
      features: measured.get(group.representative.id)?.features,
    }),
  }));

  const warnings = groups.flatMap((group) =>
    bodiesIn(group).flatMap((body) => {
      const error = measured.get(body.id)?.error;
      return error ? [`${body.name || `Body #${body.id}`} is split off without facts: ${error}`] : [];
    }),
  );
  const { elsewhere } = source.scope;
  if (elsewhere.length > 0)
    warnings.push(
      `${someOf(elsewhere, 3)} ${elsewhere.length === 1 ? 'lies in a file of its own and is' : 'lie in files of their own and are'} not in the new assembly.`,
    );
  if (choices.rest === 'replace' && count < source.bodies.length)
    warnings.push(
      `${source.bodies.length - count} of ${source.bodies.length} bodies are not in the assembly that takes the place of ${baseName(path)}.`,
    );
  return { source, components, folder, assembly, warnings };
}

/** Why a split cannot be made as its components are named; undefined when it can. */
export function hindranceTo({ components }: SplitOutline): string | undefined {
  const wrong = components.find(({ problem }) => problem !== null);
  return wrong && `${wrong.name}: ${wrong.problem} ${wrong.proposal} would do.`;
}

/**
 * Writes the files of a split and what else changes with it: the source without its bodies, or its users pointing at
 * the assembly.
 * @throws Refusal for a name that cannot be used, or a source that is not there
 */
export async function planSplit(
  planning: Planning,
  { outline, choices }: { outline: SplitOutline; choices: SplitChoices },
): Promise<ChangeSet> {
  const { project, draft } = planning;
  const timeStamp = timeStampOf(planning.now);
  const { source, components, assembly, folder } = outline;
  const { path } = source;
  const base = project.files.get(path)?.sha256;
  if (base === undefined) throw new Refusal(`There is no file ${path}.`);
  const hindrance = hindranceTo(outline);
  if (hindrance !== undefined) throw new Refusal(hindrance);

  // 1. The components, each in its own file or inside the assembly.
  const tied = choices.tie && choices.rest !== 'remove';
  const recipe = recipeOf(choices);
  for (const warning of outline.warnings) draft.warn(warning);
  const parts: ComponentToWrite[] = [];
  for (const component of components) {
    const { group, id, name, file, origin } = component;
    const bodiesOfFile = [group.representative, ...group.joined];
    const texts = () => bodiesOfFile.map((body) => source.textOf(body));
    const part = {
      id,
      name,
      use: choices.use,
      styles: choices.styles,
      origin,
      material:
        materialOf(choices, bodiesIn(group)) ?? source.scope.productOf.get(group.representative.id)?.material,
      colours: new Map(
        bodiesOfFile.flatMap((body) => {
          const colour = choices.colours[String(body.id)];
          return colour ? [[body.id, colour] as const] : [];
        }),
      ),
    };
    const placings = placingsOfGroup(group, name, origin, (body) => nameOfBody(choices, body));
    if (choices.inFile) {
      const addPart: AddPart = (builder) => {
        const {
          definition,
          representation,
          origin: at,
        } = addBodyPart(source, texts(), { ...part, isPlaced: true }, builder);
        return { definition, representation, origin: at! };
      };
      parts.push({ id, name, placings, addPart });
      continue;
    }
    // The tie keeps the names that the source has: by them its next version is recognised.
    const bodies = bodiesIn(group).map((body) => ({ id: body.id, name: body.name }));
    const back = relativePath(file, path);
    draft.write(file, () =>
      writeBodyFile(source, texts(), {
        ...part,
        fileName: baseName(file),
        timeStamp,
        source: tied ? { written: back, relation: 'split', sha256: base, bodies, recipe } : null,
      }),
    );
    if (tied) draft.linked({ holder: file, kind: 'source', written: back }, path);
    parts.push({ id, name, placings, written: relativePath(assembly, file) });
  }

  // 2. The assembly.
  draft.write(assembly, () =>
    writeAssembly({
      id: choices.rest === 'replace' ? source.product.id : `${source.product.id}-A`,
      name: source.product.name,
      fileName: baseName(assembly),
      timeStamp,
      components: parts,
      schema: choices.inFile ? source.file.header.writtenSchemas[0] : undefined,
      also: tied && !choices.inFile ? assemblySource(assembly, path, base, recipe) : undefined,
    }),
  );

  // 3. The source and its users.
  if (choices.rest === 'remove') {
    const gone = components.flatMap(({ group }) => bodiesIn(group).map(({ id }) => id));
    draft.write(path, () => renewed(path, withoutBodies(source, new Set(gone))));
  }
  if (choices.rest === 'replace') await rewireUsers(planning, path, assembly);
  const count = components.reduce((sum, { group }) => sum + bodiesIn(group).length, 0);
  return draft.finish(
    choices.inFile
      ? `Split ${count} bodies of ${baseName(path)} into the parts of ${baseName(assembly)}`
      : `Split ${count} bodies of ${baseName(path)} into ${components.length} files in ${folder || 'the top folder'}`,
    planning.progress,
  );
}

/** Reads the part to be split. @throws Refusal; Part21Error for a broken file */
export async function openSource(
  files: FileSet,
  path: string,
  product: string | null = null,
): Promise<SourcePart> {
  return new SourcePart(path, await files.read(path), product);
}
