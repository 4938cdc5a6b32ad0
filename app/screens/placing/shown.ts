import type { SceneData } from '#core/geometry/scene';
import { IDENTITY, invertRigid, type Matrix4, multiply } from '#core/product/matrix';
import type { PlaceView } from '#server/views/operations/place-view';

type View = Pick<PlaceView, 'rows' | 'placements' | 'occurrences'>;
type Instance = SceneData['instances'][number];

/** Where the rows of the stage stand that are occurrences in the assembly's own file; null for others. */
export function standing({ rows, placements }: View): (Matrix4 | null)[] {
  const found: (Matrix4 | null)[] = [];
  // What is above stands before.
  for (const { key, parent } of rows) {
    if (parent < 0) {
      found.push(IDENTITY);
      continue;
    }
    const [above, own] = [found[parent], placements[key]];
    found.push(above && own ? multiply(above, own) : null);
  }
  return found;
}

/** Rows that are an occurrence. */
function rowsOfKey({ rows }: Pick<View, 'rows'>, key: string): number[] {
  return rows.flatMap((row, n) => (row.key === key ? [n] : []));
}

/** A row with what is below it, by their numbers. */
function withBelow({ rows }: Pick<View, 'rows'>, top: number): Set<number> {
  const found = new Set([top]);
  for (let n = top + 1; n < rows.length; n++) if (found.has(rows[n]!.parent)) found.add(n);
  return found;
}

/** Of some occurrences the rows of the first place of each, with what is below them. */
export function firstRowsOf({ rows }: Pick<View, 'rows'>, keys: ReadonlySet<string>): Set<number> {
  const seen = new Set<string>();
  const found = new Set<number>();
  for (const [n, { key, parent }] of rows.entries()) {
    const isFirst = keys.has(key) && !seen.has(key);
    if (isFirst) seen.add(key);
    if (isFirst || found.has(parent)) found.add(n);
  }
  return found;
}

/**
 * How rows move when occurrences get other placements, as motions of the whole model.
 * @param after placements by the keys of occurrences, as seen from the assembly that holds them
 */
export function motionsOf(view: View, after: ReadonlyMap<string, Matrix4>): Map<number, Matrix4> {
  const motions = new Map<number, Matrix4>();
  const now: (Matrix4 | null)[] = [];
  const before = standing(view);
  for (const [n, { key, parent }] of view.rows.entries()) {
    const own = after.get(key) ?? view.placements[key];
    const above = parent < 0 ? IDENTITY : now[parent]!;
    now.push(parent < 0 ? IDENTITY : above && own && key !== '' ? multiply(above, own) : null);
    const [to, from] = [now[n], before[n]];
    const motion = to && from ? multiply(to, invertRigid(from)) : motions.get(parent);
    const isMoved = after.has(key) || motions.has(parent);
    if (isMoved && motion) motions.set(n, motion);
  }
  return motions;
}

/**
 * An occurrence once more at other placements, wherever the assembly that holds it is placed.
 * @param places where the rows stand, for whoever asks of several occurrences
 */
export function copiesOf(
  view: View,
  { instances }: Pick<SceneData, 'instances'>,
  key: string,
  placements: readonly Matrix4[],
  places = standing(view),
): Instance[] {
  const own = view.placements[key];
  if (!own) return [];
  return rowsOfKey(view, key).flatMap((row) => {
    const above = places[view.rows[row]!.parent];
    const place = places[row];
    if (!above || !place) return [];
    const below = withBelow(view, row);
    const back = invertRigid(place);
    return placements.flatMap((placement) => {
      const motion = multiply(multiply(above, placement), back);
      return instances.flatMap((instance): Instance[] =>
        below.has(instance.row)
          ? [{ ...instance, placement: multiply(motion, instance.placement), tone: 'focus' }]
          : [],
      );
    });
  });
}

/** Where an assembly of the file stands, in as many places as it is placed. @param into its PRODUCT_DEFINITION */
export function placesOf(view: View, into: number): Matrix4[] {
  const holders = new Set(
    view.occurrences.flatMap(({ key, component }) => (component === into ? [key] : [])),
  );
  return standing(view).flatMap((place, n) => {
    const { key, parent } = view.rows[n]!;
    const meant = holders.size === 0 ? parent < 0 && n === 0 : holders.has(key);
    return meant && place ? [place] : [];
  });
}

/** A part at the origin of an assembly wherever that is placed: in each place a row of its own, behind those that are there. */
export function placedIn(view: View & Pick<PlaceView, 'part'>, into: number): Instance[] {
  return placesOf(view, into).flatMap((place, n) =>
    drawnAt(view.part, place).map((instance) => ({ ...instance, row: instance.row + n })),
  );
}

/** How the rows of `placedIn` move for the part to stand somewhere in the assembly. */
export function posesOfPlaced(
  view: View & Pick<PlaceView, 'part'>,
  into: number,
  placement: Matrix4,
): Map<number, Matrix4> {
  const row = view.part?.instances[0]?.row;
  if (row === undefined) return new Map();
  return new Map(
    placesOf(view, into).map((place, n) => [
      row + n,
      multiply(multiply(place, placement), invertRigid(place)),
    ]),
  );
}

/** A part in the places of occurrences, turned and shifted in itself. */
export function insteadOf(
  view: View & Pick<PlaceView, 'part'>,
  keys: ReadonlySet<string>,
  motion: Matrix4,
): Instance[] {
  return standing(view).flatMap((place, n) =>
    place && keys.has(view.rows[n]!.key) ? drawnAt(view.part, multiply(place, motion)) : [],
  );
}

function drawnAt(part: PlaceView['part'], place: Matrix4): Instance[] {
  return (part?.instances ?? []).map((instance) => ({
    ...instance,
    placement: multiply(place, instance.placement),
  }));
}
