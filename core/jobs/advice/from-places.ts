import { plural } from '#core/command/words';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { PairSpaces } from '#core/geometry/solids/pair-space';
import type { MeasuredFiles } from '#core/jobs/measured-files';
import { type Box, boxOfPositions, sidesOf } from '#core/product/box';
import { invertRigid, isIdentity, type Matrix4, multiply, transformPoint } from '#core/product/matrix';
import { type Project, rootsOf } from '#core/project/scan/project';
import { type StructureTable, structureTable } from '#core/project/scan/structure-table';
import { Refusal } from '#core/refusal';
import type { LookContext } from '#core/report';
import type { Finding } from './finding';

/*
 * Bodies that run into each other, as the root assemblies place them. What a fit explains is left out: a press fit, and a thread that is
 * drawn as a cylinder in the hole that it is cut into.
 */

/** So much of an assembly is looked at. */
const MOST = { rows: 20_000, instances: 20_000 };
/** So many pairs that stand in different ways to each other are looked at, the largest bodies first. */
const MOST_PAIRS = 4000;
/** Boxes that lie in each other by less only touch, mm. */
const TOUCHING = 0.05;
/** A layer of less is a press fit, or the rounding of curved surfaces, mm. */
const FIT = 0.15;
/**
 * A layer of less than this part of the smaller body's least side may be a thread that is drawn as a cylinder: from M6 to M24 it is 0.05 to
 * 0.065 of the head or the stud.
 */
const THREAD = 0.07;
/** Less than this part of the smaller body is nothing, too. */
const LEAST_PART = 1e-3;
/** Pairs between two looks at whether somebody still waits. */
const RESTS = 8;

/** A body where it stands. */
interface Standing {
  path: string;
  body: number;
  row: number;
  placement: Matrix4;
  box: Box;
  measured: MeasuredBody;
}

/** Two bodies whose boxes lie in each other, and each place where they stand so to each other. */
interface Pair {
  one: Standing;
  other: Standing;
  /** Of the other, as the one sees it. */
  placement: Matrix4;
  times: number;
  /** File of the assembly that places both. */
  holder: string;
  /** What the products of the components are called. */
  names: [string, string];
}

/** What shows in how bodies are placed, as far as they were measured. Grows with placings and with pairs that are close. */
export async function findingsFromPlaces(
  context: Pick<LookContext, 'meshes' | 'progress' | 'signal'>,
  project: Project,
  measured: MeasuredFiles['measured'],
): Promise<{ findings: Finding[]; notes: string[] }> {
  const pairs = new Map<string, Pair>();
  for (const root of rootsOf(project))
    for (const pair of closePairs(structureTable(project, root, false, MOST), measured)) {
      const key = keyOf(project, pair);
      const known = pairs.get(key);
      if (known) known.times++;
      else pairs.set(key, pair);
    }
  const volumeOf = ({ one, other }: Pair) =>
    Math.min(one.measured.facts!.volume, other.measured.facts!.volume);
  const all = [...pairs.values()].sort((a, b) => volumeOf(b) - volumeOf(a));
  const looked = all.slice(0, MOST_PAIRS);
  const found = new Map<string, { pair: Pair; volume: number; times: number }>();
  const spaces = await PairSpaces.open();
  try {
    for (const [n, pair] of looked.entries()) {
      if (n % RESTS === 0) {
        await context.progress('Looking where bodies run into each other', n, looked.length);
        context.signal.throwIfAborted();
      }
      const common = await spaces.between(
        meshOf(context, pair.one),
        meshOf(context, pair.other),
        pair.placement,
      );
      if (!common || isExplained(pair, common)) continue;
      const key = [pair.holder, ...pair.names].join('\0');
      const known = found.get(key);
      if (known) {
        known.times += pair.times;
        known.volume = Math.max(known.volume, common.volume);
      } else found.set(key, { pair, volume: common.volume, times: pair.times });
    }
  } finally {
    spaces.close();
  }
  return {
    findings: [...found.values()].map(({ pair, volume, times }) => inWords(pair, volume, times)),
    notes:
      all.length > looked.length
        ? [
            `Of ${plural(all.length, 'pair')} of bodies that are close, the ${looked.length} largest were looked at.`,
          ]
        : [],
  };
}

/** A body's mesh, for when it is needed; none where it is still to come. */
function meshOf({ meshes }: Pick<LookContext, 'meshes'>, { path, body }: Standing) {
  return {
    key: `${path}\0${body}`,
    mesh: async () => {
      let found: GeometryOfBody | undefined;
      try {
        found = (await meshes(path)).get(body);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
      }
      return found && finestMesh(found);
    },
  };
}

function isExplained(
  { one, other }: Pair,
  { volume, thickness }: { volume: number; thickness: number },
): boolean {
  const [a, b] = [one.measured.facts!, other.measured.facts!];
  const smaller = a.volume < b.volume ? a : b;
  const least = Math.min(...sidesOf(smaller.box));
  return thickness <= Math.max(FIT, THREAD * least) || volume < LEAST_PART * smaller.volume;
}

/** Solids whose boxes lie in each other, each pair once: along x they are gone through in the order in which they begin. */
function* closePairs(table: StructureTable, measured: MeasuredFiles['measured']): Iterable<Pair> {
  const standing = table.instances.flatMap(({ row, body: n, placement }): Standing[] => {
    const { body } = table.bodies[n]!;
    const { path } = table.nodes[row]!.place;
    const own = measured.get(path)?.get(body);
    if (!own?.facts || own.facts.volume <= 0) return [];
    return [{ path, body, row, placement, box: boxWhere(own.facts.box, placement), measured: own }];
  });
  standing.sort((a, b) => a.box[0] - b.box[0]);
  const open: Standing[] = [];
  for (const one of standing) {
    let kept = 0;
    for (const other of open) {
      if (other.box[3] - one.box[0] <= TOUCHING) continue;
      open[kept++] = other;
      const isClose = [1, 2].every(
        (axis) =>
          Math.min(one.box[axis + 3]!, other.box[axis + 3]!) - Math.max(one.box[axis]!, other.box[axis]!) >
          TOUCHING,
      );
      if (!isClose) continue;
      const pair = pairOf(table, one, other);
      // The same body at the same place is another finding.
      if (pair) yield pair;
    }
    open.length = kept;
    open.push(one);
  }
}

function pairOf(table: StructureTable, a: Standing, b: Standing): Pair | null {
  // Bodies of one part may be one thing that nobody has united: a welded frame, a cable in its gland.
  if (a.row === b.row) return null;
  const isOrdered = a.path < b.path || (a.path === b.path && a.body <= b.body);
  const [one, other] = isOrdered ? [a, b] : [b, a];
  const placement = multiply(invertRigid(one.placement), other.placement);
  const isSame = one.path === other.path && one.body === other.body;
  if (isSame && isIdentity(placement, 1e-6)) return null;
  const { holder, names } = whereBoth(table, one.row, other.row);
  return { one, other, placement, times: 1, holder, names };
}

/** The assembly that places both of two rows, and what it calls what they are in. */
function whereBoth({ rows, nodes }: StructureTable, a: number, b: number) {
  let [one, other] = [a, b];
  let [below, otherBelow] = [a, b];
  while (one !== other) {
    if (rows[one]!.depth >= rows[other]!.depth) {
      below = one;
      one = rows[one]!.parent;
    } else {
      otherBelow = other;
      other = rows[other]!.parent;
    }
    if (one < 0 || other < 0) break;
  }
  const holder = nodes[one >= 0 ? one : below]!.place.path;
  const names = [below, otherBelow].map((row) => {
    const { name, id } = nodes[row]!.place.product;
    return name || id;
  });
  return { holder, names: names.sort() as [string, string] };
}

/** The same pair in the same way to each other, by contents. */
function keyOf({ files }: Project, { one, other, placement, holder, names }: Pair): string {
  const digest = (path: string) => files.get(path)?.sha256;
  const way = placement.map((value, n) => value.toFixed(n % 4 === 3 ? 3 : 6)).join(' ');
  return [holder, ...names, digest(one.path), one.body, digest(other.path), other.body, way].join('\0');
}

function boxWhere(box: readonly number[], placement: Matrix4): Box {
  const corners = Array.from({ length: 8 }, (_, n) =>
    transformPoint(placement, [box[n & 1 ? 3 : 0]!, box[n & 2 ? 4 : 1]!, box[n & 4 ? 5 : 2]!]),
  );
  return boxOfPositions(corners.flatMap((corner) => [...corner]));
}

function inWords({ one, other, holder, names }: Pair, volume: number, times: number): Finding {
  const what = names[0] === names[1] ? `Two placings of ${names[0]}` : names.join(' and ');
  const often = times > 1 ? ` at most, at ${times} places` : '';
  return {
    kind: 'run-into',
    files: [...new Set([holder, one.path, other.path])],
    about: names.join(' and '),
    words: `${what} have ${volume.toLocaleString('en', { maximumSignificantDigits: 3 })} mm³ in common in ${holder}${often}.`,
  };
}
