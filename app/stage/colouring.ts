/** A way to colour what is on the stage by what is known of it. */
export interface Colouring {
  key: string;
  /** What it goes by: "Colours by …". */
  title: string;
  /** Found when it is chosen. */
  find: () => Coloured;
}

export interface Coloured {
  /** Of rows of the scene. */
  colours: ReadonlyMap<number, string>;
  legend: readonly [words: string, colour: string][];
}
