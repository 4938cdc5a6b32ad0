import { type MountingFace, proposeMounting } from '#core/geometry/reduce/mounting';
import { packGltf } from '#core/geometry/shape/gltf';
import type { PreviewHome } from '#core/planned';
import type { SealOutline } from './plan';
import type { SealReport } from './proof';

/** A sealed solid for its page: the proof, and a picture. */
export interface SealPreview {
  file: string;
  gap: number;
  report: SealReport;
  /** Address of the picture, and the name of the solid in it. */
  picture: { url: string; node: string };
  mounting: MountingFace[];
}

export async function sealPreview(
  { reduced, report, mesh, file }: SealOutline,
  home: PreviewHome,
): Promise<SealPreview> {
  return {
    file,
    gap: reduced.gap,
    report,
    picture: { url: await home.keepPicture(await packGltf([{ body: 0, mesh }])), node: '0' },
    mounting: proposeMounting(reduced.whole, reduced.reach, (path) => reduced.openings.get(path)),
  };
}
