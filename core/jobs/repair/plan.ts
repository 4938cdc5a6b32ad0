import { baseName } from '#core/files/links/paths';
import { isBroken } from '#core/files/links/resolve';
import { append, groupBy } from '#core/multimap';
import { onceFor } from '#core/once';
import type { Planning } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import { structuredFormatOf } from '#core/project/formats/formats';
import { LINK_KINDS, type LinkKind } from '#core/project/formats/kinds';
import type { ProductName } from '#core/project/formats/link-format';
import { topProductsOf } from '#core/project/scan/content';
import { wantedBy } from '#core/project/scan/designations';
import { FitChecker } from '#core/project/scan/fit';
import { type Project, type ProjectLink, placedAbove } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';

/** The engineer's choice for one link. */
export interface RepairChoice {
  holder: string;
  /** Where it is left out, a component is meant before others that are written alike. */
  kind?: LinkKind;
  written: string;
  target: string;
}

/**
 * Plans to point links at chosen files. Where a chosen file is another part than the holder asks for, and the link would be
 * doubted for it, the holder's stand-in gets the id and the name of the chosen part: it was chosen on purpose.
 * @throws Refusal for a link or target that is not there, or a target that would make a loop
 */
export async function planRepair(
  { project, draft }: Pick<Planning, 'project' | 'draft'>,
  choices: readonly RepairChoice[],
): Promise<ChangeSet> {
  const chosen = new Map<ProjectLink, string>();
  for (const { holder, kind, written, target } of choices) {
    const link = findLink(project, holder, kind, written);
    if (!link) throw new Refusal(`${holder} has no link written ${written}.`);
    if (!project.files.has(target)) throw new Refusal(`There is no file ${target} to point ${written} at.`);
    if (wouldLoop(project, link, target))
      throw new Refusal(`${target} cannot be used in ${holder}: the files would place each other in a loop.`);
    const error = project.files.get(target)!.scan.error;
    if (error) draft.warn(`${target} cannot be read: ${error}`);
    if (chosen.has(link)) throw new Refusal(`Two choices for ${written} in ${holder}.`);
    chosen.set(link, target);
  }

  const byHolder = groupBy(chosen.keys(), ({ holder }) => holder);
  const renames = standInsToName(project, chosen);
  for (const [holder, links] of byHolder) {
    for (const link of links)
      await draft.retarget({ holder, kind: link.kind, written: link.written }, chosen.get(link)!);
    const renamed = renames.get(holder) ?? [];
    for (const { was, name } of renamed)
      draft.warn(`${baseName(holder)} asked for ${was}. It will ask for ${name}, which was chosen.`);
    if (renamed.length > 0)
      await draft.edit(holder, (bytes) =>
        structuredFormatOf(holder, bytes).withProductsNamed(bytes, renamed),
      );
  }
  const links = `${choices.length} ${choices.length === 1 ? 'link' : 'links'}`;
  return draft.finish(
    byHolder.size === 1
      ? `Repaired ${links} in ${[...byHolder.keys()][0]}`
      : `Repaired ${links} in ${byHolder.size} files`,
  );
}

/** The link that a choice means. */
export function findLink(
  project: Project,
  holder: string,
  kind: LinkKind | undefined,
  written: string,
): ProjectLink | undefined {
  const alike = (project.uses.get(holder) ?? []).filter(
    (link) => link.written === written && (kind === undefined || link.kind === kind),
  );
  return alike.find((link) => link.kind === 'component') ?? alike[0];
}

/** Whether a link that led to a file would make files place each other. A file never refers to itself. */
export function wouldLoop(project: Project, { holder, kind }: ProjectLink, target: string): boolean {
  if (target === holder) return true;
  return LINK_KINDS[kind].places && placedAbove(project, holder).has(target);
}

/** The stand-ins that would make links be doubted although their targets were chosen, by their holders. */
function standInsToName(
  project: Project,
  chosen: ReadonlyMap<ProjectLink, string>,
): Map<string, (ProductName & { was: string })[]> {
  const links = project.links
    .filter(({ kind }) => kind === 'component')
    .map((link) => ({ ...link, to: chosen.get(link) ?? link.to, isFar: false, link }))
    .filter(({ to }) => to !== null);
  const names = new Map<string, (ProductName & { was: string })[]>();
  for (const { link } of new FitChecker(project.files).doubted(links)) {
    const [offered] = topProductsOf(project.files.get(link.to!)!.scan);
    if (!chosen.has(link.link) || !offered) continue;
    for (const { definition, name } of wantedBy(project.files.get(link.holder)!.scan, link.definitions))
      append(names, link.holder, { definition, id: offered.id, name: offered.name, was: name });
  }
  return names;
}

/** The broken links that one choice settles: all that are written with the same file name. */
export function linksWrittenAlike(
  project: Project,
  { written }: Pick<ProjectLink, 'written'>,
): readonly ProjectLink[] {
  return brokenOf(project).byName.get(fileNameOf(written)) ?? [];
}

export function brokenLinks(project: Project): readonly ProjectLink[] {
  return brokenOf(project).links;
}

interface BrokenLinks {
  links: readonly ProjectLink[];
  /** By the file name that they are written with, without regard to case. */
  byName: ReadonlyMap<string, readonly ProjectLink[]>;
}

/** Looked for once a project: each of many links is asked who is written like it. */
const brokenOf = onceFor((project: Project): BrokenLinks => {
  const links = project.links.filter(({ state }) => isBroken(state));
  return { links, byName: groupBy(links, ({ written }) => fileNameOf(written)) };
});

function fileNameOf(written: string): string {
  return baseName(written).toLowerCase();
}
