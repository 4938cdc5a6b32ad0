import { isBroken, type LinkState, WORST_FIRST } from '#core/files/links/resolve';
import { append } from '#core/multimap';
import { onceFor } from '#core/once';
import { LINK_KINDS, type LinkKind } from '#core/project/formats/kinds';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import type { Project, ProjectLink } from './project';

/** Which way links are followed: to what files use, or to what uses them. */
export type Direction = 'uses' | 'used-in';

/** What following a link needs to know of it. */
export type TracedLink = Pick<ProjectLink, 'holder' | 'kind' | 'written' | 'to' | 'state' | 'occurrences'>;

/** A file that others lead to, or that leads to them. */
export interface TracedFile {
  /** As it is written, where no file was found. */
  path: string;
  isThere: boolean;
  /** Kind of the link by which it was met first. */
  kind: LinkKind;
  /** The worst of the links by which it was met. */
  state: LinkState;
  /** Links on the shortest way; 1 is direct. */
  depth: number;
  /** The files on that way, from the one that was asked about; neither end among them. */
  through: string[];
  /** The file that was asked about at the beginning of that way. */
  from: string;
  /** How often it is placed below those that were asked about; or how often it places them, at any depth. */
  occurrences: number;
  /** Root assemblies that it belongs to, itself among them. */
  roots: string[];
}

/** What following links needs of a project. */
export interface LinkGraph {
  /** Links by the file that holds them. */
  uses: ReadonlyMap<string, readonly TracedLink[]>;
  /** Links by the file that they lead to. */
  usedBy: ReadonlyMap<string, readonly TracedLink[]>;
}

/** The links of a project as they are followed: what the manifest attaches to a model leads to that model, and not from the manifest. */
export const linkGraphOf = onceFor((project: Project): LinkGraph => {
  if (project.attached.size === 0) return project;
  const uses = new Map<string, TracedLink[]>();
  const usedBy = new Map<string, TracedLink[]>();
  const add = (link: TracedLink) => {
    append(uses, link.holder, link);
    if (link.to !== null) append(usedBy, link.to, link);
  };
  for (const link of project.links) if (link.kind !== 'listed') add(link);
  for (const [to, attached] of project.attached)
    for (const { file } of attached)
      add({ holder: file, kind: 'attachment', written: to, to, state: 'sound', occurrences: 0 });
  return { uses, usedBy };
});

/**
 * All files that some use, or that use them, to any depth. Linear in the links that are met.
 * @param roots paths of the root assemblies
 */
export function trace(
  graph: LinkGraph,
  starts: readonly string[],
  direction: Direction,
  roots: ReadonlySet<string>,
): TracedFile[] {
  const isDown = direction === 'uses';
  const linksFrom = (path: string) => (isDown ? graph.uses : graph.usedBy).get(path) ?? [];
  const found = new Map<string, Omit<TracedFile, 'occurrences' | 'roots'>>();
  const asked = new Set(starts);
  let layer: readonly { path: string; from: string; through: readonly string[] }[] = [...asked].map(
    (path) => ({ path, from: path, through: [] }),
  );
  for (let depth = 1; layer.length > 0; depth++) {
    const next: { path: string; from: string; through: readonly string[] }[] = [];
    for (const { path, from, through } of layer)
      for (const { holder, kind, written, to, state } of linksFrom(path)) {
        const isThere = !isDown || to !== null;
        const met = isDown ? (to ?? written) : holder;
        if (asked.has(met) && isThere) continue;
        const key = isThere ? met : `\0${met}`;
        const known = found.get(key);
        if (known) {
          if (WORST_FIRST.indexOf(state) < WORST_FIRST.indexOf(known.state)) known.state = state;
          continue;
        }
        found.set(key, { path: met, isThere, kind, state, depth, through: [...through], from });
        // The manifest lists what belongs to the project: what it lists does not belong together for that.
        if (isThere && met !== MANIFEST_NAME)
          next.push({ path: met, from, through: depth === 1 ? [] : [...through] });
      }
    layer = next.map(({ path, from, through }) => ({ path, from, through: [...through, path] }));
  }
  const placings = placingsBetween(graph, asked, isDown);
  const there = [...found.values()].flatMap(({ path, isThere }) => (isThere ? [path] : []));
  const rootsOf = rootsAbove(graph, there, roots);
  return [...found.values()]
    .map((file) => ({
      ...file,
      occurrences: file.isThere ? placings(file.path) : 0,
      roots: file.isThere ? (rootsOf.get(file.path) ?? []) : [],
    }))
    .sort((a, b) => a.depth - b.depth || (a.path < b.path ? -1 : 1));
}

/** The root assemblies among what uses some files, to any depth; themselves among them. */
export function rootsReached(
  graph: LinkGraph,
  starts: readonly string[],
  roots: ReadonlySet<string>,
): string[] {
  const above = rootsAbove(graph, starts, roots);
  return [...new Set(starts.flatMap((path) => above.get(path) ?? []))].sort();
}

/**
 * How often a file is placed below some others, or places them: along the links that place, each way counted. Each file is gone through once,
 * after those that it counts on; links in a circle are broken and count nothing.
 */
function placingsBetween(
  { uses, usedBy }: LinkGraph,
  ends: ReadonlySet<string>,
  isDown: boolean,
): (path: string) => number {
  const counts = new Map<string, number>();
  const stepsFrom = (path: string) => ({
    path,
    at: 0,
    steps: ((isDown ? usedBy : uses).get(path) ?? []).flatMap(({ kind, to, holder, occurrences, state }) => {
      const next = isDown ? holder : to;
      return LINK_KINDS[kind].places && next !== null && !isBroken(state) ? [{ next, occurrences }] : [];
    }),
  });
  return (asked) => {
    const way = counts.has(asked) ? [] : [stepsFrom(asked)];
    for (let top = way.at(-1); top; top = way.at(-1)) {
      const step = top.steps[top.at++];
      if (step) {
        if (!counts.has(step.next)) way.push(stepsFrom(step.next));
        continue;
      }
      const own = (next: string) => (ends.has(next) ? 1 : 0) + counts.get(next)!;
      counts.set(
        top.path,
        top.steps.reduce((sum, { next, occurrences }) => sum + occurrences * own(next), 0),
      );
      way.pop();
    }
    return counts.get(asked)!;
  };
}

/**
 * For each of some files the root assemblies that lead to it by any links, in the order of their paths. Grows with the links above the files,
 * and with what comes out.
 */
function rootsAbove({ uses, usedBy }: LinkGraph, paths: readonly string[], roots: ReadonlySet<string>) {
  const above = new Set(paths);
  for (const path of above) for (const { holder } of usedBy.get(path) ?? []) above.add(holder);
  const found = new Map<string, string[]>();
  for (const root of [...above].filter((path) => roots.has(path)).sort()) {
    const below = new Set([root]);
    for (const path of below) {
      append(found, path, root);
      for (const { to } of uses.get(path) ?? []) if (to !== null && above.has(to)) below.add(to);
    }
  }
  return found;
}
