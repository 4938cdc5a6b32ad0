/** Points in a plane, in a row; the last one is joined to the first. */
export type Outline = readonly (readonly number[])[];

/** Whether a point lies inside of outlines: of an odd number of them. */
export function isWithin(outlines: readonly Outline[], x: number, y: number): boolean {
  let is = false;
  for (const outline of outlines)
    for (let n = 0, last = outline.length - 1; n < outline.length; last = n++) {
      const [[ax, ay], [bx, by]] = [outline[n] as [number, number], outline[last] as [number, number]];
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) is = !is;
    }
  return is;
}
