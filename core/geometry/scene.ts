import type { Appearance } from '#core/product/appearance';

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
