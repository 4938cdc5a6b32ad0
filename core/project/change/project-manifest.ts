import { MANIFEST_NAME } from '#core/project/formats/manifest';
import type { Draft } from './draft';

/** The bytes of the manifest on a draft; undefined where there is none yet. */
export async function manifestOn(draft: Pick<Draft, 'has' | 'read'>): Promise<Uint8Array | undefined> {
  return draft.has(MANIFEST_NAME) ? draft.read(MANIFEST_NAME) : undefined;
}
