import type { SceneData } from '#core/geometry/scene';
import type { StructureView, StructureViewRow } from './structure-view';

/** What rows of one component have in common. */
type SharedFacts = Omit<StructureViewRow, 'key' | 'parent' | 'depth' | 'name' | 'children'>;

/**
 * A structure as it is sent: what many rows have in common stands there once, and numbers in lists of their own, each as the step from
 * the one before.
 */
interface PackedStructure {
  rest: Omit<StructureView, 'rows' | 'scene'>;
  shared: SharedFacts[];
  /** For each row: which of `shared`, and the row above it; -1 at the top. */
  rowSteps: { facts: number[]; parents: number[] };
  /** Of the rows: one text with BETWEEN between them, unless one of them has that. */
  names: string | string[];
  bodies: SceneData['bodies'];
  /** What the addresses of their pictures begin with; it is left out there. */
  address: string;
  /** Rotations: nine numbers each, row by row. */
  turns: number[][];
  /** For each placing of a body: its row, which body, which of `turns`. */
  instanceSteps: { rows: number[]; bodies: number[]; turns: number[] };
  /** Three for each placing, mm. */
  places: number[];
  /** Names of placings that differ from those of their rows, and their tones. */
  named: { [instance: number]: string };
  tones: { [instance: number]: NonNullable<SceneData['instances'][number]['tone']> };
}

/** Places are sent to a nanometre. */
const GRAIN = 1e6;
/** Where a row-major placement keeps its rotation, and where its place. */
const TURN = [0, 1, 2, 4, 5, 6, 8, 9, 10];
const PLACE = [3, 7, 11];
/** Rare in names, and written as it is in every text. */
const BETWEEN = '¦';

/** A structure as text: about 50 bytes a row. */
export function packStructure({ rows, scene, ...rest }: StructureView): string {
  const shared = new Distinct<SharedFacts>();
  const turns = new Distinct<number[]>();
  const facts = rows.map(
    ({ key: _key, parent: _parent, depth: _depth, name: _name, children: _children, ...own }) =>
      shared.indexOf(own),
  );
  const { instances } = scene;
  const turnOf = instances.map(({ placement }) => turns.indexOf(TURN.map((at) => placement[at]!)));
  const address = sharedStart(scene.bodies.flatMap(({ url }) => url ?? []));
  const packed: PackedStructure = {
    rest,
    shared: shared.values,
    rowSteps: { facts: stepsOf(facts), parents: stepsOf(rows.map(({ parent }) => parent)) },
    names: joined(rows.map(({ name }) => name)),
    bodies: scene.bodies.map((body) => ({ ...body, url: body.url?.slice(address.length) ?? null })),
    address,
    turns: turns.values,
    instanceSteps: {
      rows: stepsOf(instances.map(({ row }) => row)),
      bodies: stepsOf(instances.map(({ body }) => body)),
      turns: stepsOf(turnOf),
    },
    places: instances.flatMap(({ placement }) =>
      PLACE.map((at) => Math.round(placement[at]! * GRAIN) / GRAIN),
    ),
    named: {},
    tones: {},
  };
  for (const [n, { row, name, tone }] of instances.entries()) {
    if (name !== rows[row]!.name) packed.named[n] = name;
    if (tone) packed.tones[n] = tone;
  }
  return JSON.stringify(packed);
}

/** The structure as it was packed. */
export function unpackStructure(text: string): StructureView {
  const packed = JSON.parse(text) as PackedStructure;
  const facts = summed(packed.rowSteps.facts);
  const names = typeof packed.names === 'string' ? packed.names.split(BETWEEN) : packed.names;
  const rows: StructureViewRow[] = [];
  let tops = 0;
  for (const [n, parent] of summed(packed.rowSteps.parents).entries()) {
    const above = rows[parent];
    const key = above ? `${above.key}.${above.children++}` : String(tops++);
    const depth = above ? above.depth + 1 : 0;
    rows.push({ ...packed.shared[facts[n]!]!, key, parent, depth, name: names[n]!, children: 0 });
  }
  const [bodies, turns] = [summed(packed.instanceSteps.bodies), summed(packed.instanceSteps.turns)];
  return {
    ...packed.rest,
    rows,
    scene: {
      bodies: packed.bodies.map((body) => ({
        ...body,
        url: body.url === null ? null : packed.address + body.url,
      })),
      instances: summed(packed.instanceSteps.rows).map((row, n) => {
        const placement = Array<number>(16).fill(0);
        for (const [k, at] of TURN.entries()) placement[at] = packed.turns[turns[n]!]![k]!;
        for (const [k, at] of PLACE.entries()) placement[at] = packed.places[3 * n + k]!;
        placement[15] = 1;
        const tone = packed.tones[n];
        const name = packed.named[n] ?? rows[row]!.name;
        return { row, body: bodies[n]!, placement, name, ...(tone && { tone }) };
      }),
    },
  };
}

function stepsOf(numbers: readonly number[]): number[] {
  return numbers.map((value, n) => value - (numbers[n - 1] ?? 0));
}

function summed(steps: readonly number[]): number[] {
  let sum = 0;
  return steps.map((step) => {
    sum += step;
    return sum;
  });
}

function joined(names: string[]): PackedStructure['names'] {
  return names.some((name) => name.includes(BETWEEN)) ? names : names.join(BETWEEN);
}

function sharedStart(texts: readonly string[]): string {
  let [start = ''] = texts;
  for (const text of texts) while (!text.startsWith(start)) start = start.slice(0, -1);
  return start;
}

/** Values that are the same stand there once. */
class Distinct<Value> {
  readonly values: Value[] = [];
  private readonly known = new Map<string, number>();

  indexOf(value: Value): number {
    const text = JSON.stringify(value);
    const known = this.known.get(text);
    if (known !== undefined) return known;
    this.known.set(text, this.values.length);
    return this.values.push(value) - 1;
  }
}
