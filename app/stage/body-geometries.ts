import {
  BoxGeometry,
  type BufferGeometry,
  Float32BufferAttribute,
  type LineSegments,
  type Mesh,
} from 'three';
import { MeshoptDecoder } from 'three/addons/libs/meshopt_decoder.module.js';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { MeshFile } from '#core/geometry/scene';
import type { ExactBody } from '#core/geometry/shape/exact';
import { Refusal } from '#core/refusal';
import type { DetailLevel } from './detail';

/** A mesh of one level of detail; the coarser ones share the vertices of the whole one. */
export interface GeometryLevel extends DetailLevel {
  faces: BufferGeometry;
}

/** Faces and edges of one body. */
export interface BodyGeometry {
  faces: BufferGeometry;
  edges: BufferGeometry | null;
  /** The whole mesh, coarser ones, and last a box. */
  levels: GeometryLevel[];
  /** Of a file of triangles, which has its colours in the mesh: its edges, to be measured, where there are not too many. */
  ofMesh?: { exact: ExactBody | null };
}

/** A box takes the place of a mesh that has at least so many triangles. */
const WORTH_A_BOX = 24;
/** How far a box may be off, as part of its diagonal. */
const ERROR_OF_BOX = 0.3;

/** Fetches glTF files, each once, and gives the bodies in them by name. */
export class BodyGeometries {
  private readonly loader = new GLTFLoader().setMeshoptDecoder(MeshoptDecoder);
  private readonly files = new Map<string, Promise<Map<string, BodyGeometry>>>();

  /**
   * Null when the file cannot be fetched or has no such body.
   * @throws Refusal for a file of triangles that cannot be read
   */
  async get(url: string, node: string, mesh?: MeshFile): Promise<BodyGeometry | null> {
    let file = this.files.get(url);
    if (!file) {
      file = (mesh ? this.loadMesh(url, node, mesh) : this.load(url)).catch((error: unknown) => {
        this.files.delete(url);
        if (error instanceof Refusal) throw error;
        return new Map<string, BodyGeometry>();
      });
      this.files.set(url, file);
    }
    return (await file).get(node) ?? null;
  }

  dispose(): void {
    for (const file of this.files.values()) {
      void file.then(
        (bodies) => {
          for (const { edges, levels } of bodies.values()) {
            for (const { faces } of levels) faces.dispose();
            edges?.dispose();
          }
        },
        () => {},
      );
    }
    this.files.clear();
  }

  private async loadMesh(url: string, node: string, mesh: MeshFile): Promise<Map<string, BodyGeometry>> {
    const { readMeshFile } = await import('./mesh-file');
    const { faces, edges, exact } = await readMeshFile(url, mesh);
    faces.computeBoundsTree({ indirect: true });
    faces.computeBoundingBox();
    const levels = [{ faces, triangles: trianglesOf(faces), error: 0 }];
    return new Map([[node, { faces, edges, levels, ofMesh: { exact } }]]);
  }

  private async load(url: string): Promise<Map<string, BodyGeometry>> {
    const { scene } = await this.loader.loadAsync(url);
    const bodies = new Map<string, BodyGeometry>();
    for (const node of scene.children) {
      const meshes: Mesh[] = [];
      let edges: BufferGeometry | null = null;
      node.traverse((part) => {
        if ((part as Mesh).isMesh) meshes.push(part as Mesh);
        else if ((part as LineSegments).isLineSegments) edges = (part as LineSegments).geometry;
      });
      const [whole, ...coarser] = meshes;
      if (!whole) continue;
      const faces = whole.geometry;
      faces.userData.faceGroups = (whole.userData.faceGroups ?? node.userData.faceGroups) as
        | number[]
        | undefined;
      // The order of the triangles says which face each belongs to: the tree leaves it alone.
      faces.computeBoundsTree({ indirect: true });
      faces.computeBoundingBox();
      const levels = [
        { faces, triangles: trianglesOf(faces), error: 0 },
        ...coarser.map(({ geometry }) => ({
          faces: geometry,
          triangles: trianglesOf(geometry),
          error: Number(geometry.userData.error),
        })),
      ];
      if (levels.at(-1)!.triangles >= WORTH_A_BOX) levels.push(boxLevel(faces));
      bodies.set(node.name, { faces, edges, levels });
    }
    return bodies;
  }
}

/** A box stands for a body whose mesh has not arrived. @param box smallest and largest x, y, z, mm */
export function boxGeometry(box: readonly number[]): BodyGeometry {
  const faces = boxBetween(box.slice(0, 3), box.slice(3));
  faces.computeBoundingBox();
  return { faces, edges: null, levels: [{ faces, triangles: trianglesOf(faces), error: 0 }] };
}

function boxLevel({ boundingBox }: BufferGeometry): GeometryLevel {
  const { min, max } = boundingBox!;
  const faces = boxBetween(min.toArray(), max.toArray());
  return { faces, triangles: trianglesOf(faces), error: ERROR_OF_BOX * min.distanceTo(max) };
}

function boxBetween(min: readonly number[], max: readonly number[]): BufferGeometry {
  const [x, y, z] = [0, 1, 2].map((n) => max[n]! - min[n]!) as [number, number, number];
  const geometry = new BoxGeometry(x, y, z).translate(min[0]! + x / 2, min[1]! + y / 2, min[2]! + z / 2);
  geometry.deleteAttribute('uv');
  return geometry;
}

function trianglesOf(geometry: BufferGeometry): number {
  return (geometry.index ?? geometry.getAttribute('position')).count / 3;
}

/** Gives the coarser levels of a mesh the colours of its faces; a box takes that of the first. */
export function shareColours({ faces, levels }: BodyGeometry): void {
  const colours = faces.getAttribute('color');
  for (const level of levels) {
    if (level.faces.hasAttribute('color')) continue;
    if (level.faces.getAttribute('position') === faces.getAttribute('position'))
      level.faces.setAttribute('color', colours);
    else {
      const count = level.faces.getAttribute('position').count;
      const [r, g, b] = [colours.getX(0), colours.getY(0), colours.getZ(0)];
      level.faces.setAttribute(
        'color',
        new Float32BufferAttribute(Array.from({ length: count }, () => [r, g, b]).flat(), 3),
      );
    }
  }
}
