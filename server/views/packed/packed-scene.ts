import type { SceneData } from '#core/geometry/scene';
import type { Steps } from '#core/steps';
import { Distinct, RESTS, stepsOf, summed, textSteps } from './packing';

/** A scene as it is sent: numbers in lists of their own, each as the step from the one before. */
export interface PackedScene {
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
/** Packs a scene. @param nameOfRow what a placing is called that has no name of its own */
export function* packSceneSteps(
  { bodies, instances }: SceneData,
  nameOfRow: (row: number) => string,
): Steps<PackedScene> {
  const turns = new Distinct<number[]>();
  const turnOf: number[] = [];
  const places: number[] = [];
  const [named, tones]: [PackedScene['named'], PackedScene['tones']] = [{}, {}];
  for (const [n, { row, name, tone, placement }] of instances.entries()) {
    if (n % RESTS === 0) yield;
    turnOf.push(turns.indexOf(TURN.map((at) => placement[at]!)));
    for (const at of PLACE) places.push(Math.round(placement[at]! * GRAIN) / GRAIN);
    if (name !== nameOfRow(row)) named[n] = name;
    if (tone) tones[n] = tone;
  }
  const address = sharedStart(bodies.flatMap(({ url }) => url ?? []));
  yield;
  return {
    bodies: bodies.map((body) => ({ ...body, url: body.url?.slice(address.length) ?? null })),
    address,
    turns: turns.values,
    instanceSteps: {
      rows: stepsOf(instances.map(({ row }) => row)),
      bodies: stepsOf(instances.map(({ body }) => body)),
      turns: stepsOf(turnOf),
    },
    places,
    named,
    tones,
  };
}

/** The scene as it was packed. */
export function unpackScene(packed: PackedScene, nameOfRow: (row: number) => string): SceneData {
  const { rows, bodies, turns } = packed.instanceSteps;
  const [bodyOf, turnOf] = [summed(bodies), summed(turns)];
  return {
    bodies: packed.bodies.map((body) => ({
      ...body,
      url: body.url === null ? null : packed.address + body.url,
    })),
    instances: summed(rows).map((row, n) => {
      const placement = Array<number>(16).fill(0);
      for (const [k, at] of TURN.entries()) placement[at] = packed.turns[turnOf[n]!]![k]!;
      for (const [k, at] of PLACE.entries()) placement[at] = packed.places[3 * n + k]!;
      placement[15] = 1;
      const tone = packed.tones[n];
      const name = packed.named[n] ?? nameOfRow(row);
      return { row, body: bodyOf[n]!, placement, name, ...(tone && { tone }) };
    }),
  };
}

/** A scene whose placings have names of their own, as text: a large one takes half a second and more as the data of a page. */
export function* sceneTextSteps(scene: SceneData): Steps<string> {
  return yield* textSteps(yield* packSceneSteps(scene, () => ''));
}

export function sceneOfText(text: string): SceneData {
  return unpackScene(JSON.parse(text) as PackedScene, () => '');
}

function sharedStart(texts: readonly string[]): string {
  let [start = ''] = texts;
  for (const text of texts) while (!text.startsWith(start)) start = start.slice(0, -1);
  return start;
}
