import { useMemo } from 'react';
import type { MeshFile } from '#core/geometry/scene';
import { IDENTITY } from '#core/product/matrix';
import { Stage } from './Stage';

interface MeshStageProps {
  /** Where the file is. */
  url: string;
  name: string;
  mesh: MeshFile;
}

/** One file of triangles, as it came: turned, cut open, its edges measured. */
export function MeshStage({ url, name, mesh: { kind, folder } }: MeshStageProps) {
  const scene = useMemo(
    () => ({
      bodies: [{ url, node: name, colour: null, mesh: { kind, folder } }],
      instances: [{ row: 0, body: 0, placement: IDENTITY, name }],
    }),
    [url, name, kind, folder],
  );
  return <Stage scene={scene} sceneKey={url} />;
}
