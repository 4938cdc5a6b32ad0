import { relativePath } from '#core/files/links/paths';
import type { Arrangement } from '#core/product/restructure/arrange';
import type { Product } from '#core/product/structure';
import type { Draft } from '#core/project/change/draft';
import { hasStructure } from '#core/project/formats/endings';
import { topProductsOf } from '#core/project/scan/content';
import { type Project, placedAbove } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';

/** A file as an assembly can place it: by the stand-in that it has for it already, or by a new one. */
export interface Component {
  /** PRODUCT_DEFINITION, or the key of the new stand-in. */
  of: number | string;
  standIns: Arrangement['standIns'];
  name: string;
  part: string;
}

/**
 * A file as a component of an assembly in another file.
 * @param where the assembly file, and the assembly in it that places the part
 * @throws Refusal for a file that cannot be placed there
 */
export function componentFor(
  project: Project,
  { file, part, parent }: { file: string; part: string; parent: Product },
): Component {
  const there = project.files.get(part);
  if (!there) throw new Refusal(`There is no file ${part}.`);
  if (!hasStructure(part)) throw new Refusal(`${part} cannot be placed: only STEP stands in an assembly.`);
  if (there.scan.error !== null) throw new Refusal(`${part} cannot be read: ${there.scan.error}`);
  const [top, ...more] = topProductsOf(there.scan);
  if (!top) throw new Refusal(`${part} holds neither a part nor an assembly.`);
  if (more.length > 0)
    throw new Refusal(`${part} holds ${more.length + 1} parts side by side: split it first.`);
  if (placedAbove(project, file).has(part))
    throw new Refusal(`${part} uses ${file} itself: the files would place each other in a loop.`);
  const { scan } = project.files.get(file)!;
  const placed = new Set(scan.products.flatMap(({ occurrences }) => occurrences.map(({ child }) => child)));
  for (const { kind, to, definitions } of project.uses.get(file) ?? []) {
    if (kind !== 'component' || to !== part) continue;
    const known = definitions.find((one) => scan.placeholders.includes(one) && placed.has(one));
    if (known !== undefined) return { of: known, standIns: [], name: top.name, part };
  }
  return newComponent({ file, part, parent }, top);
}

/** A file as a component of an assembly that does not refer to it yet. */
export function newComponent(
  { file, part, parent }: { file: string; part: string; parent: Product },
  { id, name }: Pick<Product, 'id' | 'name'>,
): Component {
  const standIn = { key: 'part', id, name, written: relativePath(file, part), parent: parent.definition };
  return { of: 'part', standIns: [standIn], name, part };
}

/** Tells a draft of the link of a new stand-in, when it is written. */
export function link(draft: Draft, holder: string, { standIns, part }: Component): void {
  for (const { written } of standIns) draft.linked({ holder, kind: 'component', written }, part);
}
