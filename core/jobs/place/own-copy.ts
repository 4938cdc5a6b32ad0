import { baseName, extensionOf, folderOf, joinPath } from '#core/files/links/paths';
import { applyTo, chosen } from '#core/jobs/arrange/apply';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { hasStructure } from '#core/project/formats/endings';
import { fittingStem } from '#core/project/formats/file-stem';
import { structuredFormatOf } from '#core/project/formats/formats';
import { topProductsOf } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { OwnCopyChoices } from './choices';
import { link, newComponent } from './component';
import { placesOf } from './replace';

/**
 * The chosen places of a component get a copy of its file, which can be changed without changing the others.
 * @throws Refusal for components that are no files, or not one and the same
 */
export async function planOwnCopy(
  context: Planning,
  choices: OwnCopyChoices,
): Promise<Planned<ArrangePreview>> {
  const { project, draft } = context;
  const { file } = choices;
  const { held } = chosen(project, choices);
  const [{ parent, occurrence }] = held as [(typeof held)[0]];
  const places = placesOf(project, file, held);
  const [{ path, broken }] = places as [(typeof places)[0]];
  if (places.some((place) => place.path !== path))
    throw new Refusal(`${occurrence.name} and others are different files: choose places of one.`);
  if (broken) throw new Refusal(`The file of ${occurrence.name} is not found: repair the link first.`);
  if (path === file) throw new Refusal(`${occurrence.name} lies in ${file} itself: put it out first.`);
  if (!hasStructure(path)) throw new Refusal(`${path} cannot be copied under another name: only STEP can.`);
  const [top, ...more] = topProductsOf(project.files.get(path)!.scan);
  if (!top || more.length > 0) throw new Refusal(`${path} holds several parts: it cannot be copied so.`);

  // 1. The copy, called something else.
  const number = freeNumber(project, top.id);
  const names = { id: `${top.id}-${number}`, name: choices.name?.trim() || `${top.name} ${number}` };
  const stem = fittingStem(names.name) || 'copy';
  const copy = draft.free(joinPath(folderOf(path), `${stem}.${extensionOf(path)}`));
  const bytes = await draft.read(path);
  const named = [{ definition: top.definition, ...names }];
  draft.write(copy, structuredFormatOf(path, bytes).withProductsNamed(bytes, named));

  // 2. It stands in the chosen places.
  const component = newComponent({ file, part: copy, parent }, names);
  const replaced = new Map(
    held.map(({ occurrence: { id, placement } }) => [id, { by: component.of, placement }]),
  );
  const gone = await applyTo(context, file, { standIns: component.standIns, replaced }, true);
  link(draft, file, component);
  const where = held.length === 1 ? occurrence.name : `${held.length} places of ${top.name}`;
  const change = await draft.finish(`Gave ${where} a copy of ${baseName(path)}`);
  return { change, preview: { occurrences: held.map((one) => one.occurrence.name), gone, made: copy } };
}

/** The first number, from two on, behind which no part of the project has the id. */
function freeNumber(project: Project, id: string): number {
  const ids = new Set(
    [...project.files.values()].flatMap(({ scan }) => topProductsOf(scan).map((product) => product.id)),
  );
  let number = 2;
  while (ids.has(`${id}-${number}`)) number++;
  return number;
}
