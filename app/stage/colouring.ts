/** A way to colour what is on the stage by what is known of it. */
export interface Colouring {
  key: string;
  /** What it goes by: "Colours by …". */
  title: string;
  /** Of rows of the scene. */
  colours: ReadonlyMap<number, string>;
  legend: readonly [words: string, colour: string][];
}
