import { baseName } from '#core/files/links/paths';
import type { Planning } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import { structuredFormatOf } from '#core/project/formats/formats';
import { Refusal } from '#core/refusal';
import type { DetachChoices } from './choices';

/**
 * Plans to detach files from their source: they stay as they are and no longer follow it.
 * @throws Refusal when none of them came out of it
 */
export async function planDetach(
  { project, draft }: Planning,
  { source, files }: DetachChoices,
): Promise<ChangeSet> {
  const links = (project.usedBy.get(source) ?? []).filter(
    (link) => link.source && (files === null || files.includes(link.holder)),
  );
  if (links.length === 0) throw new Refusal(`None of these files came out of ${source}.`);
  for (const { holder, written } of links)
    await draft.edit(holder, (bytes) => structuredFormatOf(holder, bytes).withoutSource(bytes, written));
  return draft.finish(
    `Detached ${links.length === 1 ? baseName(links[0]!.holder) : `${links.length} files`} from ${baseName(source)}`,
  );
}
