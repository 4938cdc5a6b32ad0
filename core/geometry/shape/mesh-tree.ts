import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { SolidMesh } from './solid-mesh';

/** A mesh as a tree of boxes, for rays and nearest points. */
export function treeOf({ positions, triangles }: SolidMesh): MeshBVH {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  // The tree sorts the index that it is given.
  geometry.setIndex(new BufferAttribute(triangles.slice(), 1));
  return new MeshBVH(geometry);
}
