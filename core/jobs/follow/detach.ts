import { someOf } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import type { Planning } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import type { Attachment } from '#core/project/formats/attachments';
import { structuredFormatOf } from '#core/project/formats/formats';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { MANIFEST_NAME, withEntries } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import type { DetachChoices } from './choices';

/**
 * Plans to detach files from their source: they stay as they are and no longer follow it; and from a model that the manifest attaches them to.
 * @throws Refusal when none of them came out of it or is attached to it
 */
export async function planDetach(
  { project, draft }: Planning,
  { source, files }: DetachChoices,
): Promise<ChangeSet> {
  const links = (project.usedBy.get(source) ?? []).filter(
    (link) => link.source && (files === null || files.includes(link.holder)),
  );
  const attached = (project.attached.get(source) ?? []).filter(
    ({ file }) => files === null || files.includes(file),
  );
  const detached = new Set([...links.map(({ holder }) => holder), ...attached.map(({ file }) => file)]);
  if (detached.size === 0)
    throw new Refusal(`None of these files came out of ${source}, or is attached to it.`);
  if (attached.length > 0) await takeOff(draft, project, attached);
  for (const { holder, written } of links)
    await draft.edit(holder, (bytes) => structuredFormatOf(holder, bytes).withoutSource(bytes, written));
  const depending = new Set(
    links.flatMap(({ holder }) =>
      (project.usedBy.get(holder) ?? []).flatMap((link) =>
        LINK_KINDS[link.kind].places || link.source ? [link.holder] : [],
      ),
    ),
  );
  if (depending.size > 0) {
    draft.warn(
      `${someOf([...depending].map(baseName), 3)} ${depending.size === 1 ? 'depends' : 'depend'} on what is detached, and will not get what changes in ${baseName(source)} through it any more.`,
    );
  }
  const [one] = detached;
  return draft.finish(
    `Detached ${detached.size === 1 ? baseName(one!) : `${detached.size} files`} from ${baseName(source)}`,
  );
}

/** Takes attachments out of the manifest, which may write their paths in another way. */
async function takeOff(
  draft: Planning['draft'],
  project: Planning['project'],
  attached: readonly Attachment[],
): Promise<void> {
  const found = new Map(
    (project.uses.get(MANIFEST_NAME) ?? []).flatMap(({ kind, written, to }) =>
      kind === 'listed' ? [[written, to] as const] : [],
    ),
  );
  await draft.edit(MANIFEST_NAME, (bytes) =>
    withEntries(bytes, ({ attachments = [] }) => ({
      attachments: attachments.filter(
        (one) => !attached.some(({ file, to }) => found.get(one.file) === file && found.get(one.to) === to),
      ),
    })),
  );
}
