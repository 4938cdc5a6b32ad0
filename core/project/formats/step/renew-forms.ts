import { Part21File } from '#core/files/part21/file';
import { withRecordsInOrder } from '#core/files/part21/record-order';
import type { OldForm } from '#core/project/formats/link-format';
import { withDocumentsReferring } from './renew-documents';
import { withFoldersJoined } from './renew-folders';
import { withSourcesRenewed } from './renew-sources';
import { unitsOutOfOrder } from './units-out-of-order';

/**
 * The file with old forms written anew: where links lead stays as it is, and every other byte too.
 * @param standIns PRODUCT_DEFINITIONs of the file that stand for others
 */
export function withFormsRenewed(
  before: Uint8Array,
  forms: readonly OldForm[],
  standIns: readonly number[],
): Uint8Array {
  let bytes = before;
  if (forms.includes('units')) {
    const file = Part21File.read(bytes);
    bytes = withRecordsInOrder(file, unitsOutOfOrder(file));
  }
  if (forms.includes('folders')) bytes = withFoldersJoined(bytes);
  if (forms.includes('stand-ins')) bytes = withDocumentsReferring(bytes, standIns);
  if (forms.includes('sources')) bytes = withSourcesRenewed(bytes);
  return bytes;
}
