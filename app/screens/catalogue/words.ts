import { baseName } from '#core/files/links/paths';
import type { OfferedFormat } from '#core/jobs/publish/choices';
import type { OfferedRow } from '#server/views/operations/catalogue-view';
import { plural } from '../../ui/format';

/** What each format is for. */
export const FORMAT_WORDS: { readonly [format in OfferedFormat]: string } = {
  step: 'STEP, exact, for design',
  glb: 'glTF, for viewers and the web',
  '3mf': '3MF, for printing',
  stl: 'STL, triangles',
};

/** Whether what is offered is no longer what would be offered now. */
export function isOutdated({ file, moved }: Pick<OfferedRow, 'file' | 'moved'>): boolean {
  return file === 'newer' || (file === 'same' && moved.some(({ newest }) => newest !== null));
}

/** How what is offered stands to what it was made from, in a sentence; the first is the one that counts. */
export function standingInWords({ file, moved }: Pick<OfferedRow, 'file' | 'moved'>): string {
  if (file === 'gone') return 'its file is no longer in the project';
  const [first, ...more] = moved;
  if (!first) return file === 'newer' ? 'its file was made again since' : 'up to date';
  const also = more.length > 0 ? `, and ${plural(more.length, 'file')} more` : '';
  const name = baseName(first.path);
  if (first.newest === null) return `${name}, which it was made from, is gone${also}`;
  const taken = first.taken === null ? 'an older version' : `version ${first.taken}`;
  return `made from ${taken} of ${name}, now ${first.newest}${also}`;
}
