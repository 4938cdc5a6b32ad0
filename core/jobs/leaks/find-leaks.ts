import { unpackedStep } from '#core/files/archive/packed-step';
import { stemOf } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { innerFaces, type NamedMesh } from '#core/geometry/leaks/inner-faces';
import { type Leak, leaksIn } from '#core/geometry/leaks/leaks';
import { gapOf } from '#core/geometry/reduce/decide';
import { meshOfBody, type Whole, wholeStructure, withMeshes } from '#core/geometry/whole/whole';
import { sha256 } from '#core/project/change/file-set';
import { scanContent } from '#core/project/scan/content';
import { resolveProject } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { LookContext } from '#core/report';

/**
 * What can be told from a file besides its outside: its text, and the faces of its bodies that a ball from outside cannot come to. What lies in
 * other files is not looked at: whoever gets this file does not have it.
 * @param gap mm; null for the usual part of the whole's size
 * @returns also why its faces were not looked at, where that could not be done
 */
export async function findLeaks(
  { files, meshes, progress }: Pick<LookContext, 'files' | 'meshes' | 'progress'>,
  path: string,
  gap: number | null,
): Promise<{ leaks: Leak[]; gap: number | null; unseen: string | null }> {
  const bytes = await files.read(path);
  const leaks = leaksIn(Part21File.read(unpackedStep(bytes)), stemOf(path));
  const scan = scanContent(path, bytes);
  const alone = resolveProject([{ path, bytes: bytes.byteLength, sha256: sha256(bytes), scan }]);
  if (!scan.products.some(({ bodies }) => bodies.length > 0)) return { leaks, gap: null, unseen: null };
  let structure: Whole;
  try {
    structure = wholeStructure(alone, path);
  } catch (error) {
    // Its words are looked at all the same.
    if (error instanceof Refusal) return { leaks, gap: null, unseen: error.message };
    throw error;
  }
  const whole = await withMeshes(structure, ({ file }) => meshes(file));
  const named = whole.bodies.flatMap(({ occurrence, placement }, n): NamedMesh[] => {
    const mesh = meshOfBody(whole, n);
    return mesh ? [{ name: whole.occurrences[occurrence]!.place.product.name, mesh, placement }] : [];
  });
  const used = gapOf({ gap }, whole);
  return { leaks: [...leaks, ...(await innerFaces(named, used, progress))], gap: used, unseen: null };
}
