import type { Derivation } from '#core/jobs/follow/derivation';
import { LiteChoices } from '#core/jobs/lite/choices';
import { planLite } from '#core/jobs/lite/plan';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import { SealChoices } from './choices';
import { planSeal } from './plan';

/** Files for strangers: their recipes stand in the manifest, and are run on the newest versions of everything they were made from. */
export const OUTSIDE_AGAIN: Derivation = {
  operation: 'outside',
  async remake(context, { source }) {
    const { draft, project } = context;
    if (!draft.has(MANIFEST_NAME)) return { words: null };
    const behind = readManifest(await draft.read(MANIFEST_NAME)).outside.filter(({ sources }) =>
      sources.some(({ path, sha256 }) => path === source && project.files.get(path)?.sha256 !== sha256),
    );
    for (const { file, operation, choices, sources } of behind) {
      const root = sources[0]?.path;
      if (root === undefined || !project.files.has(root))
        throw new Refusal(`${file} was made from ${root ?? 'nothing'}, which is not there.`);
      const read = operation === 'lite' ? LiteChoices.safeParse(choices) : SealChoices.safeParse(choices);
      if (!read.success)
        throw new Refusal(`The recipe of ${file} in ${MANIFEST_NAME} cannot be read. Make it anew.`);
      if (operation === 'lite') await planLite(context, root, read.data as LiteChoices, file);
      else if (operation === 'seal') await planSeal(context, root, read.data as SealChoices, file);
      else
        draft.warn(`${file} was made by “${operation}”, which cannot be done again here. It stays as it is.`);
    }
    if (behind.length === 0) return { words: null };
    return { words: `${behind.length} ${behind.length === 1 ? 'file' : 'files'} for outside made again` };
  },
};
