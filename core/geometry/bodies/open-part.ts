import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import { SourcePart } from './source-part';

/**
 * The part in a file, which the plan then rests on. Read once for each content.
 * @param product one product of the file, with all below it; null for the whole file
 * @returns the part, and the hash of what it was read from
 * @throws Refusal when there is no such file; Part21Error for a broken one
 */
export async function openPart(
  { project, draft, remember }: Pick<PlanContext, 'project' | 'draft' | 'remember'>,
  file: string,
  product: string | null = null,
): Promise<{ part: SourcePart; sha256: string }> {
  const scanned = project.files.get(file);
  if (!scanned) throw new Refusal(`There is no file ${file}.`);
  const { sha256 } = scanned;
  draft.restOn(file);
  const part = await remember(
    `part ${sha256} ${file} ${product}`,
    async () => new SourcePart(file, await draft.read(file), product),
  );
  return { part, sha256 };
}
