import type { BufferGeometry, LineSegments, Mesh } from 'three';
import { MeshoptDecoder } from 'three/addons/libs/meshopt_decoder.module.js';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';

/** Faces and edges of one body. */
export interface BodyGeometry {
  faces: BufferGeometry;
  edges: BufferGeometry | null;
}

/** Fetches glTF files, each once, and gives the bodies in them by name. */
export class BodyGeometries {
  private readonly loader = new GLTFLoader().setMeshoptDecoder(MeshoptDecoder);
  private readonly files = new Map<string, Promise<Map<string, BodyGeometry>>>();

  /** Null when the file cannot be fetched or has no such body. */
  async get(url: string, node: string): Promise<BodyGeometry | null> {
    let file = this.files.get(url);
    if (!file) {
      file = this.load(url).catch(() => {
        this.files.delete(url);
        return new Map<string, BodyGeometry>();
      });
      this.files.set(url, file);
    }
    return (await file).get(node) ?? null;
  }

  dispose(): void {
    for (const file of this.files.values()) {
      void file.then((bodies) => {
        for (const { faces, edges } of bodies.values()) {
          faces.dispose();
          edges?.dispose();
        }
      });
    }
    this.files.clear();
  }

  private async load(url: string): Promise<Map<string, BodyGeometry>> {
    const { scene } = await this.loader.loadAsync(url);
    const bodies = new Map<string, BodyGeometry>();
    for (const node of scene.children) {
      let faces: BufferGeometry | null = null;
      let edges: BufferGeometry | null = null;
      node.traverse((part) => {
        if ((part as Mesh).isMesh) {
          faces = (part as Mesh).geometry;
          faces.userData.faceGroups = part.userData.faceGroups;
        } else if ((part as LineSegments).isLineSegments) edges = (part as LineSegments).geometry;
      });
      if (!faces) continue;
      // The order of the triangles says which face each belongs to: the tree leaves it alone.
      (faces as BufferGeometry).computeBoundsTree({ indirect: true });
      (faces as BufferGeometry).computeBoundingBox();
      bodies.set(node.name, { faces, edges });
    }
    return bodies;
  }
}
