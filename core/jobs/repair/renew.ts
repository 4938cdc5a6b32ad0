import { baseName } from '#core/files/links/paths';
import type { Planning } from '#core/planning';
import type { ChangeSet } from '#core/project/change/change-set';
import { structuredFormatOf } from '#core/project/formats/formats';
import type { OldForm } from '#core/project/formats/link-format';
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
    const bytes = await draft.read(path);
    draft.write(path, structuredFormatOf(path, bytes).withFormsRenewed(bytes, forms, placeholders));
  }
  return draft.finish(
    `Renewed how links are written in ${old.length === 1 ? old[0]!.path : `${old.length} files`}`,
  );
}
