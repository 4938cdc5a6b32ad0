import { lookOf } from '#core/project/formats/looks';
import type { Database } from '#server/db/connection';
import { portraitImage, portraitsOf } from '#server/jobs/portraits';
import { SHAPE_KEY } from '#server/jobs/shapes';

/** An image larger than that is no small picture: it would be fetched whole. Bytes. */
const LARGEST_IMAGE = 300_000;

/** The newest version's picture: bytes of a PNG, or the content of an image that shows itself. */
export async function filePicture(
  db: Database,
  projectId: string,
  path: string,
): Promise<{ png: Buffer } | { image: string } | undefined> {
  const file = await db('files').where({ project_id: projectId, path }).first('sha256', 'bytes');
  if (!file) return undefined;
  if (isSmallImage(path, Number(file.bytes))) return { image: file.sha256 };
  const shape = await db('shapes')
    .where({ ...SHAPE_KEY, sha256: file.sha256 })
    .first('picture');
  const png = shape?.picture?.length ? shape.picture : await portraitImage(db, projectId, path);
  return png ? { png } : undefined;
}

/** Which files of a project have a picture. @param files of which it is asked */
export async function withPictures(
  db: Database,
  projectId: string,
  files: readonly { path: string; sha256: string; bytes: number }[],
): Promise<Set<string>> {
  const rows: { sha256: string }[] = await db('shapes')
    .where(SHAPE_KEY)
    .whereRaw('length(picture) > 0')
    .whereRaw('sha256 = any(?)', [files.map(({ sha256 }) => sha256)])
    .select('sha256');
  const drawn = new Set(rows.map(({ sha256 }) => sha256));
  const portraits = await portraitsOf(db, projectId);
  return new Set(
    files.flatMap(({ path, sha256, bytes }) =>
      drawn.has(sha256) || portraits.get(path)?.isSeen || isSmallImage(path, bytes) ? [path] : [],
    ),
  );
}

function isSmallImage(path: string, bytes: number): boolean {
  return lookOf(path)?.as === 'image' && bytes <= LARGEST_IMAGE;
}
