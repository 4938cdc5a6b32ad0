/** What the stage draws. Placements are row-major 4x4 in millimetres. */
export interface StageScene {
  /** Distinct bodies; `url` is the glTF file that holds the body under `node`. */
  bodies: { url: string | null; node: string; colour: string | null }[];
  instances: {
    row: number;
    body: number;
    placement: readonly number[];
    name: string;
    tone?: 'ghost' | 'focus';
  }[];
}

export type Direction = 'front' | 'back' | 'left' | 'right' | 'top' | 'below' | 'corner';

export interface SectionPlane {
  axis: 'x' | 'y' | 'z';
  /** 0 to 1 across the model. */
  at: number;
  flipped: boolean;
}

export interface StagePick {
  row: number;
  name: string;
}
