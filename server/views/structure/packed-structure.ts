import type { Steps } from '#core/steps';
import { type PackedScene, packSceneSteps, unpackScene } from '#server/views/packed/packed-scene';
import { Distinct, RESTS, stepsOf, summed, textSteps } from '#server/views/packed/packing';
import type { StructureView, StructureViewRow } from './structure-view';

/** What rows of one component have in common. */
type SharedFacts = Omit<StructureViewRow, 'key' | 'parent' | 'depth' | 'name' | 'children' | 'isFolded'>;

/** A structure as it is sent: what many rows have in common stands there once. */
interface PackedStructure {
  rest: Omit<StructureView, 'rows' | 'scene'>;
  shared: SharedFacts[];
  /** For each row: which of `shared`, and the row above it; -1 at the top. */
  rowSteps: { facts: number[]; parents: number[] };
  /** Of the rows: one text with BETWEEN between them, unless one of them has that. */
  names: string | string[];
  /** For each row that is folded: how many are below it. */
  folded: { [row: number]: number };
  scene: PackedScene;
}

/** Rare in names, and written as it is in every text. */
const BETWEEN = '¦';

/** A structure as text: about 50 bytes a row. */
export function* packSteps({ rows, scene, ...rest }: StructureView): Steps<string> {
  const shared = new Distinct<SharedFacts>();
  const facts: number[] = [];
  const folded: PackedStructure['folded'] = {};
  for (const [n, row] of rows.entries()) {
    if (n % RESTS === 0) yield;
    const { key: _key, parent: _parent, depth: _depth, name: _name, children, isFolded, ...own } = row;
    facts.push(shared.indexOf(own));
    if (isFolded) folded[n] = children;
  }
  const packed: PackedStructure = {
    rest,
    shared: shared.values,
    rowSteps: { facts: stepsOf(facts), parents: stepsOf(rows.map(({ parent }) => parent)) },
    names: joined(rows.map(({ name }) => name)),
    folded,
    scene: yield* packSceneSteps(scene, (row) => rows[row]!.name),
  };
  return yield* textSteps(packed, ['scene']);
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
    const isFolded = packed.folded[n] !== undefined;
    const name = names[n]!;
    rows.push({ ...packed.shared[facts[n]!]!, key, parent, depth, name, children: 0, isFolded });
  }
  for (const [n, children] of Object.entries(packed.folded)) rows[Number(n)]!.children = children;
  return { ...packed.rest, rows, scene: unpackScene(packed.scene, (row) => rows[row]!.name) };
}

function joined(names: string[]): PackedStructure['names'] {
  return names.some((name) => name.includes(BETWEEN)) ? names : names.join(BETWEEN);
}
