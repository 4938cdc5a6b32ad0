import { z } from 'zod';
import { baseName, foldPath } from '#core/files/links/paths';

/** What makes files standard parts: they lie in a folder, their names are alike, or one is named outright. */
export const StandardMark = z
  .object({
    folder: z
      .string()
      .max(2000)
      .optional()
      .describe('Files in this folder and below it; as seen from the manifest.'),
    name: z
      .string()
      .min(1)
      .max(200)
      .optional()
      .describe('Files of such names: `*` stands for any letters, `?` for one.'),
    file: z.string().min(1).max(2000).optional().describe('Just this file, as seen from the manifest.'),
  })
  .refine(
    ({ folder, name, file }) => (folder ?? name ?? file) !== undefined,
    'Say a folder, a name or a file.',
  )
  .describe('What makes files standard parts. Where a folder and a name are said, both must fit.');
export type StandardMark = z.infer<typeof StandardMark>;

/** Whether some marks make a file a standard part. Names compare without case. */
export function isStandard(marks: readonly StandardMark[], path: string): boolean {
  const folded = foldPath(path);
  return marks.some(({ folder, name, file }) => {
    if (file !== undefined) return foldPath(file) === folded;
    const isInFolder = !folder || folded.startsWith(`${foldPath(folder).replace(/\/$/, '')}/`);
    return isInFolder && (name === undefined || fitsPattern(foldPath(name), baseName(folded)));
  });
}

/** In time that grows with the product of both lengths, whatever the pattern: no regular expression is made of what somebody wrote. */
function fitsPattern(pattern: string, name: string): boolean {
  let reached = new Set([0]);
  for (const sign of pattern) {
    const next = new Set<number>();
    for (const at of reached) {
      if (sign === '*') for (let end = at; end <= name.length; end++) next.add(end);
      else if (at < name.length && (sign === '?' || sign === name[at])) next.add(at + 1);
    }
    reached = next;
  }
  return reached.has(name.length);
}
