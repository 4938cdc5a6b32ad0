import { GROUPS_FORM } from './groups-form';
import { IMPORT_FORM, UNPACK_FORM } from './import-form';
import { LITE_FORM } from './lite-form';
import { MOVE_FORM, REMOVE_FORM } from './move-form';
import type { CommandForm } from './operation-command';
import { PACKAGE_FORM } from './package-form';
import { RENEW_FORM } from './renew-form';
import { REPAIR_FORM } from './repair-form';
import { SEAL_FORM } from './seal-form';
import { SPLIT_FORM } from './split-form';
import { UNDO_FORM } from './undo-form';

/** What is particular to the commands of some operations; the others need nothing. */
// biome-ignore lint/suspicious/noExplicitAny: each has choices and a preview of its own
export const COMMAND_FORMS: { readonly [operation: string]: CommandForm<any, any> } = {
  repair: REPAIR_FORM,
  renew: RENEW_FORM,
  split: SPLIT_FORM,
  package: PACKAGE_FORM,
  groups: GROUPS_FORM,
  lite: LITE_FORM,
  seal: SEAL_FORM,
  move: MOVE_FORM,
  remove: REMOVE_FORM,
  undo: UNDO_FORM,
  import: IMPORT_FORM,
  unpack: UNPACK_FORM,
};
