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
