export type { SceneData as StageScene } from '#server/views/structure-view';

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

/** A name beside a body on the stage. */
export interface StageLabel {
  row: number;
  text: string;
  /** What the field holds when the label is clicked. */
  name: string;
  tone?: 'typed' | 'problem';
}
