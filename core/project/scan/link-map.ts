import { baseName, folderOf } from '#core/files/links/paths';
import { isBroken, type LinkState } from '#core/files/links/resolve';
import type { LinkKind } from '#core/project/formats/kinds';
import type { FileRole } from '#core/project/formats/link-format';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import type { Project } from './project';
import { linkGraphOf, type TracedLink } from './trace';

/** More nodes than this are readable in no layout: what is beyond is folded. */
export const MOST_NODES_OF_MAP = 150;
/** So many files that are not there are drawn among them. */
const MOST_MISSING = 50;

/** A file, a folder with all that is in it, or a file that is not there. */
export interface MapNode {
  key: string;
  what: 'file' | 'folder' | 'missing';
  /** Of a folder its path; '' with `rest` set for files of a folder that are too many to be shown. */
  path: string;
  label: string;
  role: FileRole | null;
  /** Files that it stands for. */
  files: number;
  /** Steps from the file that the map is around; 0 for that one, and where it is around none. */
  steps: number;
}

/** Links of one kind and state from one node to another. */
export interface MapEdge {
  from: string;
  to: string;
  kind: LinkKind;
  state: LinkState;
  count: number;
}

export interface LinkMap {
  nodes: MapNode[];
  edges: MapEdge[];
  /** Files that belong on it. */
  files: number;
}

/** What of a project is drawn. */
export interface WantedMap {
  /** The file that it is around; everything without one. */
  focus: string | null;
  /** How many links away from it files are drawn. */
  steps: number;
  /** Folders that are opened, and closed, by hand. */
  opened: readonly string[];
  closed: readonly string[];
}

/** A folder with what is in it. */
interface Folder {
  path: string;
  folders: Map<string, Folder>;
  files: string[];
  /** Files in it and below. */
  count: number;
  hasBroken: boolean;
}

/**
 * Files and the links between them, folded by folders to at most 150 nodes: folders with broken links are opened first, then the smallest.
 * Linear in files and links.
 */
export function linkMap(project: Project, { focus, steps, opened, closed }: WantedMap): LinkMap {
  const graph = linkGraphOf(project);
  const distances = focus === null ? null : around(graph, focus, steps);
  const wanted = [...project.files.keys()].filter(
    (path) => (distances ? distances.has(path) : path !== MANIFEST_NAME) || path === focus,
  );
  const links = [...graph.uses.values()].flat().filter(({ holder, to, kind }) => {
    if (kind === 'listed' || (holder === MANIFEST_NAME && focus !== MANIFEST_NAME)) return false;
    return distances === null || (distances.has(holder) && (to === null || distances.has(to)));
  });
  const broken = new Set(links.flatMap(({ holder, state }) => (isBroken(state) ? [holder] : [])));
  const missing = new Set(links.flatMap(({ to, written }) => (to === null ? [written] : [])));
  const drawn = new Set([...missing].slice(0, MOST_MISSING));
  const nodeOf = foldedNodes(folderTree(wanted, broken), {
    room: MOST_NODES_OF_MAP - drawn.size,
    focus,
    opened: new Set(opened),
    closed: new Set(closed),
    broken,
    links,
  });
  const nodes = new Map<string, MapNode>();
  for (const path of wanted) {
    const node = nodeOf.get(path)!;
    const known = nodes.get(node.key);
    const distance = distances?.get(path) ?? 0;
    if (known) {
      known.files++;
      known.steps = Math.min(known.steps, distance);
      continue;
    }
    const role = node.what === 'file' ? project.files.get(path)!.scan.role : null;
    nodes.set(node.key, { ...node, role, files: 1, steps: distance });
  }
  const edges = new Map<string, MapEdge>();
  for (const { holder, kind, written, to, state } of links) {
    const from = nodeOf.get(holder)?.key;
    if (from === undefined) continue;
    let target = to === null ? undefined : nodeOf.get(to)?.key;
    if (to === null) {
      target = `missing ${written}`;
      const steps = (distances?.get(holder) ?? 0) + (distances ? 1 : 0);
      if (drawn.has(written) && !nodes.has(target))
        nodes.set(target, {
          key: target,
          what: 'missing',
          path: written,
          label: baseName(written.replaceAll('\\', '/')),
          role: null,
          files: 0,
          steps,
        });
      if (!nodes.has(target)) continue;
    }
    if (target === undefined || target === from) continue;
    const key = `${from}\0${target}\0${kind}\0${state}`;
    const known = edges.get(key);
    if (known) known.count++;
    else edges.set(key, { from, to: target, kind, state, count: 1 });
  }
  return { nodes: [...nodes.values()], edges: [...edges.values()], files: wanted.length };
}

/** Files that are so many links away at most, either way, with how many. */
function around(
  { uses, usedBy }: ReturnType<typeof linkGraphOf>,
  focus: string,
  steps: number,
): Map<string, number> {
  const found = new Map([[focus, 0]]);
  for (const [path, distance] of found) {
    if (distance === steps) continue;
    // The manifest leads to everything that it lists: nothing belongs together for that.
    if (path === MANIFEST_NAME && focus !== MANIFEST_NAME) continue;
    for (const { to } of uses.get(path) ?? []) if (to !== null && !found.has(to)) found.set(to, distance + 1);
    for (const { holder } of usedBy.get(path) ?? [])
      if (!found.has(holder) && holder !== MANIFEST_NAME) found.set(holder, distance + 1);
  }
  return found;
}

function folderTree(paths: readonly string[], broken: ReadonlySet<string>): Folder {
  const make = (path: string): Folder => ({
    path,
    folders: new Map(),
    files: [],
    count: 0,
    hasBroken: false,
  });
  const top = make('');
  for (const path of paths) {
    let folder = top;
    const isBrokenThere = broken.has(path);
    const parts = folderOf(path) === '' ? [] : folderOf(path).split('/');
    const mark = (one: Folder) => {
      one.count++;
      one.hasBroken ||= isBrokenThere;
    };
    mark(top);
    for (const part of parts) {
      const inner = folder.folders.get(part) ?? make(folder.path === '' ? part : `${folder.path}/${part}`);
      folder.folders.set(part, inner);
      folder = inner;
      mark(folder);
    }
    folder.files.push(path);
  }
  return top;
}

interface Folding {
  /** Nodes at most. */
  room: number;
  focus: string | null;
  opened: ReadonlySet<string>;
  closed: ReadonlySet<string>;
  broken: ReadonlySet<string>;
  links: readonly TracedLink[];
}

type BareNode = Omit<MapNode, 'role' | 'files' | 'steps'>;

/** The node that each file is drawn as. */
function foldedNodes(
  top: Folder,
  { room: most, focus, opened, closed, broken, links }: Folding,
): Map<string, BareNode> {
  // 1. Which folders are open: those by hand, then as many as there is room for.
  const open = new Set<Folder>([top]);
  const waiting: Folder[] = [];
  let room = most - top.files.length - top.folders.size;
  const enter = (folder: Folder) => {
    for (const inner of folder.folders.values()) {
      if (opened.has(inner.path)) {
        open.add(inner);
        room -= inner.files.length + inner.folders.size - 1;
        enter(inner);
      } else if (!closed.has(inner.path)) waiting.push(inner);
    }
  };
  enter(top);
  while (waiting.length > 0) {
    waiting.sort((a, b) => Number(b.hasBroken) - Number(a.hasBroken) || a.count - b.count);
    const next = waiting.shift()!;
    const takes = next.files.length + next.folders.size - 1;
    if (takes > room) continue;
    room -= takes;
    open.add(next);
    enter(next);
  }

  // 2. Files of an open folder that are still too many: those stay that have broken links or most links.
  const degrees = new Map<string, number>();
  for (const { holder, to } of links) {
    degrees.set(holder, (degrees.get(holder) ?? 0) + 1);
    if (to !== null) degrees.set(to, (degrees.get(to) ?? 0) + 1);
  }
  const found = new Map<string, BareNode>();
  const draw = (folder: Folder) => {
    const place = folder.path || 'the top folder';
    const shown = folder.files.length > MOST_NODES_OF_MAP && !opened.has(`${folder.path}/`) ? 100 : 2000;
    const ranked = [...folder.files].sort(
      (a, b) =>
        Number(b === focus) - Number(a === focus) ||
        Number(broken.has(b)) - Number(broken.has(a)) ||
        (degrees.get(b) ?? 0) - (degrees.get(a) ?? 0),
    );
    for (const [n, path] of ranked.entries())
      found.set(
        path,
        n < shown || folder.files.length <= MOST_NODES_OF_MAP
          ? { key: path, what: 'file', path, label: baseName(path) }
          : {
              key: `${folder.path}/`,
              what: 'folder',
              path: `${folder.path}/`,
              label: `others in ${place}`,
            },
      );
    for (const inner of folder.folders.values()) {
      if (open.has(inner)) draw(inner);
      else fold(inner, { key: `${inner.path}/*`, what: 'folder', path: inner.path, label: inner.path });
    }
  };
  const fold = (folder: Folder, node: BareNode) => {
    for (const path of folder.files) found.set(path, node);
    for (const inner of folder.folders.values()) fold(inner, node);
  };
  draw(top);
  return found;
}
