import { baseName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { withRecordsInOrder } from '#core/files/part21/record-order';
import type { Planning } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import type { OldForm } from '#core/project/formats/link-format';
import { withDocumentsReferring } from '#core/project/formats/step/renew-documents';
import { withFoldersJoined } from '#core/project/formats/step/renew-folders';
import { withSourcesRenewed } from '#core/project/formats/step/renew-sources';
import { unitsOutOfOrder } from '#core/project/formats/step/step';
import type { Project } from '#core/project/scan/project';

/** A file, and what it writes in an old form. */
export interface FileToRenew {
  path: string;
  forms: OldForm[];
}

/** The files of a project that write something in a form that others do not follow. */
export function filesToRenew(project: Project): FileToRenew[] {
  return [...project.files.values()].flatMap(({ path, scan: { oldForms: forms } }) =>
    forms.length > 0 ? [{ path, forms }] : [],
  );
}

/** What is written anew, in words. */
export function formInWords(form: OldForm): string {
  return IN_WORDS[form];
}

const IN_WORDS: { readonly [form in OldForm]: string } = {
  'stand-ins': 'its components are referred to in the form that others follow',
  folders: 'the paths of its components stand in one place',
  sources: 'its source is written as a property, so that nobody loads it as a part',
  units: 'its units are written in the order that the standard wants',
};

/**
 * Plans to write links anew in the form that others follow: where they lead stays as it is, and every other byte too.
 * @param old the files to renew; all of them unless it says otherwise
 */
export async function planRenew(
  { project, draft, progress }: Planning,
  old: readonly FileToRenew[] = filesToRenew(project),
): Promise<ChangeSet> {
  for (const [n, { path, forms }] of old.entries()) {
    await progress(`Writing ${baseName(path)}`, n, old.length);
    const { placeholders } = project.files.get(path)!.scan;
    draft.write(path, renewed(await draft.read(path), forms, placeholders));
  }
  return draft.finish(
    `Renewed how links are written in ${old.length === 1 ? old[0]!.path : `${old.length} files`}`,
  );
}

/** @param standIns PRODUCT_DEFINITIONs of the file that stand for others */
function renewed(before: Uint8Array, forms: readonly OldForm[], standIns: readonly number[]): Uint8Array {
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
