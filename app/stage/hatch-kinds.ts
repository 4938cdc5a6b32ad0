import type { Box3 } from 'three';

/** Beyond so many placings neighbours are not looked for: the kinds then simply take turns. */
const MOST_PLACINGS = 4000;

/**
 * Which of a few hatchings each body is cut with, so that neighbours differ as on a drawing (ISO 128-3: adjacent parts
 * by direction or spacing). Bodies are neighbours when the boxes of two of their placings meet. Greedy: where more
 * neighbours meet than there are kinds, the one that fewest of them have is taken.
 * @param boxes of every placing, by body
 */
export function hatchKinds(boxes: readonly (readonly Box3[])[], kinds: number): number[] {
  const placings = boxes.flatMap((own, body) => own.map((box) => ({ body, box })));
  if (placings.length > MOST_PLACINGS) return boxes.map((_, body) => body % kinds);
  const neighbours = boxes.map(() => new Set<number>());
  // Along x, from left to right, those that have not ended yet.
  placings.sort((a, b) => a.box.min.x - b.box.min.x);
  let open: typeof placings = [];
  for (const placing of placings) {
    open = open.filter(({ box }) => box.max.x >= placing.box.min.x);
    for (const { body, box } of open) {
      if (body === placing.body || !box.intersectsBox(placing.box)) continue;
      neighbours[body]!.add(placing.body);
      neighbours[placing.body]!.add(body);
    }
    open.push(placing);
  }
  const chosen: number[] = [];
  for (let body = 0; body < boxes.length; body++) {
    const used = new Array<number>(kinds).fill(0);
    for (const other of neighbours[body]!) if (other < body) used[chosen[other]!]!++;
    chosen.push(used.indexOf(Math.min(...used)));
  }
  return chosen;
}
