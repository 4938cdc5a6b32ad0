import type { MeshKind } from '#core/files/mesh-kinds';
import type { Appearance } from '#core/product/appearance';

/** A file of triangles that is drawn as it is. */
export interface MeshFile {
  kind: MeshKind;
  /** An address whose `path` is the folder of the file: what it needs besides is there. Left out where it may need nothing. */
  folder?: string;
}

/** A body as the stage draws it, once for all its placings. */
export interface SceneBody extends Appearance {
  /** Where its picture is; null while there is none. */
  url: string | null;
  /** Its name in the picture. */
  node: string;
  /** There will be no picture. */
  failed?: true;
  /** The picture is of another version, until its own is made. */
  isOlder?: true;
  /** What is at the address is a file of triangles, as it came; left out for pictures that are made here. */
  mesh?: MeshFile;
  /** Smallest and largest x, y, z in its own coordinates, mm, rounded; left out while they are not known. */
  box?: number[];
}

/** What the stage draws, as plain data. */
export interface SceneData {
  bodies: SceneBody[];
  instances: {
    row: number;
    body: number;
    placement: readonly number[];
    name: string;
    /** Faintly drawn, and not to be picked; faintly drawn; or lit. */
    tone?: 'ghost' | 'faint' | 'focus';
  }[];
}

/** Finds the pictures of bodies. */
export interface ScenePictures {
  /** @param sha256 of the content that holds the body @param id its number there */
  of(sha256: string, id: number, appearance: Appearance): SceneBody;
}
