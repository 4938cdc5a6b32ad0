import { type ChangeSet, write } from '#core/change/change-set';
import type { FileSet } from '#core/change/file-set';
import { baseName, folderOf, relativePath, stemOf } from '#core/links/paths';
import { cutTie, renewSource } from '#core/links/source';
import { IDENTITY, invertRigid, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import type { ComponentToWrite } from '#core/product/write-components';
import type { Project } from '#core/scan/project';
import { toleranceFor } from '#core/shape/congruence/congruence';
import { findMotion } from '#core/shape/congruence/motion';
import { writeBodyFile } from '#core/split/body-file';
import { splitChoices } from '#core/split/choices';
import { bodiesIn, groupBodies, type MeasuredBody, placingOf } from '#core/split/groups';
import { nameComponents } from '#core/split/names';
import { placedShape } from '#core/split/placed-shape';
import { assemblySource, placing, placingsOf, takenIn } from '#core/split/placings';
import { type SourcePart, SplitError } from '#core/split/source-part';
import { type BodyMatch, type BodyToMatch, matchBodies } from './match';
import { standing, type TiedComponent, type Ties, tiesTo } from './ties';

export type Measured = ReadonlyMap<number, MeasuredBody>;

/** One line of the plan: what became of one body. */
export interface FollowLine {
  change: BodyMatch['change'] | 'new' | 'gone';
  /** File of the component; null for a new body. */
  component: string | null;
  older: { id: number; name: string } | null;
  newer: { id: number; name: string } | null;
  how: BodyMatch['how'] | null;
  confidence: number | null;
  /** Why the component is left alone; null when it follows. */
  kept: string | null;
}

/** What a newer version of a source means for the files that came out of it. */
export interface FollowOutline {
  ties: Ties;
  source: SourcePart;
  measured: Measured;
  lines: FollowLine[];
  /** By component and position of the placing. */
  matches: Map<string, (BodyMatch | null)[]>;
  /** Positions of the source's bodies that are new. */
  added: number[];
  kept: ReadonlyMap<string, string>;
}

/**
 * Matches a source's newest version with the files that came out of an older one.
 * @param measuredOf facts and features of the bodies of a component file, by path
 * @param taken facts and features of the older version's bodies, where they are still known
 * @throws SplitError when no file came out of this source
 */
export function outlineFollow(
  project: Project,
  source: SourcePart,
  measured: Measured,
  measuredOf: (path: string) => Measured,
  taken?: Measured,
): FollowOutline {
  const ties = tiesTo(project, source.path);
  if (ties.components.length === 0)
    throw new SplitError(`No file of this project came out of ${source.path}.`);

  // 1. Both versions, every body where it stands.
  const places: { component: TiedComponent; n: number }[] = [];
  const older: BodyToMatch[] = [];
  const kept = new Map<string, string>();
  for (const component of ties.components) {
    const measuredThere = measuredOf(component.path);
    const own = component.bodies?.map(({ id }) => measuredThere.get(id)) ?? [];
    const reason = whyKept(component, own, taken);
    if (reason) kept.set(component.path, reason);
    for (const [n, placing] of component.placings.entries()) {
      places.push({ component, n });
      older.push({
        id: placing.id,
        name: placing.name,
        shape: own[n] ? placedShape(own[n], standing(component, n)) : null,
      });
    }
  }
  const newer = source.bodies.map(({ id, name, placement }): BodyToMatch => {
    const own = measured.get(id);
    return { id, name, shape: own ? placedShape(own, placement ?? IDENTITY) : null };
  });

  // 2. Who became whom.
  const matching = matchBodies(older, newer);
  const matches = new Map(
    ties.components.map(({ path, placings }) => [path, placings.map((): BodyMatch | null => null)]),
  );
  const lines: FollowLine[] = [];
  const bodyOf = (n: number) => ({ id: source.bodies[n]!.id, name: source.bodies[n]!.name });
  for (const match of matching.matches) {
    const { component, n } = places[match.older]!;
    matches.get(component.path)![n] = match;
    lines.push({
      change: match.change,
      component: component.path,
      older: component.placings[n]!,
      newer: bodyOf(match.newer),
      how: match.how,
      confidence: match.confidence,
      kept: kept.get(component.path) ?? null,
    });
  }
  for (const n of matching.gone) {
    const { component, n: at } = places[n]!;
    lines.push({
      change: 'gone',
      component: component.path,
      older: component.placings[at]!,
      newer: null,
      how: null,
      confidence: null,
      kept: kept.get(component.path) ?? null,
    });
  }
  // Bodies that were there before and were not split off are not new; without an assembly nobody asked for all of them.
  const candidates = ties.assembly ? matching.added.filter((n) => source.bodies[n]!.kind === 'solid') : [];
  const known =
    taken && candidates.length > 0
      ? new Set(matchBodies(shapesOnly(taken), newer).matches.map((match) => match.newer))
      : undefined;
  const added = candidates.filter((n) => !known?.has(n));
  for (const n of added)
    lines.push({
      change: 'new',
      component: null,
      older: null,
      newer: bodyOf(n),
      how: null,
      confidence: null,
      kept: null,
    });
  const order = ['changed', 'moved', 'new', 'gone', 'unchanged'];
  lines.sort((a, b) => order.indexOf(a.change) - order.indexOf(b.change));
  return { ties, source, measured, lines, matches, added, kept };
}

/** An older version of which only the shapes are known any more. */
function shapesOnly(taken: Measured): BodyToMatch[] {
  return [...taken].map(([id, own]) => ({ id, name: '', shape: placedShape(own, IDENTITY) }));
}

function whyKept(
  { bodies, isJoined, placings }: TiedComponent,
  own: readonly (MeasuredBody | undefined)[],
  taken?: Measured,
): string | null {
  if (!bodies) return 'It no longer has the bodies that it came with: somebody has worked on it.';
  const isChanged = placings.some(({ id }, n) => {
    if (n > 0 && !isJoined) return false;
    const original = taken?.get(id);
    const [now, then] = [
      own[n] && placedShape(own[n], IDENTITY),
      original && placedShape(original, IDENTITY),
    ];
    return now && then && !findMotion(then, now, toleranceFor(then.diagonal));
  });
  return isChanged ? 'It has changes of its own.' : null;
}

export interface FollowChoices {
  /** Bodies that the source no longer has leave the assembly; their files stay. */
  removeGone: boolean;
}

/**
 * Plans to bring everything that came out of a source up to its newest version, in one change: changed bodies get a new
 * version of their file, moved ones a new placement, new ones a file; what has changes of its own is left alone.
 * @throws SplitError when the assembly has components of its own and placements would have to change
 */
export async function planFollow(
  project: Project,
  files: FileSet,
  outline: FollowOutline,
  { removeGone }: FollowChoices,
  timeStamp: string,
): Promise<ChangeSet> {
  const { ties, source, measured, matches, kept } = outline;
  const added = [...outline.added];
  const base = project.files.get(source.path)!.sha256;
  const changes: ChangeSet = { summary: '', changes: [], rewires: [], warnings: [] };
  const parts: ComponentToWrite[] = [];
  let assemblyChanges = added.length > 0;
  const written = (path: string) => relativePath(ties.assembly?.path ?? path, path);

  // 1. Components that there are.
  for (const component of ties.components) {
    const { path, product } = component;
    const own = matches.get(path)!;
    const place = (n: number, placement: Matrix4) => {
      const body = own[n] ? source.bodies[own[n].newer]! : component.placings[n]!;
      return placing(source.path, body, product.name, placement);
    };
    const reason = kept.get(path);
    if (reason) {
      changes.warnings.push(`${path} is left as it is. ${reason}`);
      const standing = component.isJoined ? component.placings.slice(0, 1) : component.placings;
      const placings = standing.map(({ placement }, n) => place(n, placement));
      parts.push({ ...product, placings, written: written(path) });
      continue;
    }
    if (component.isJoined) {
      const newer = own.flatMap((match) => (match ? [source.bodies[match.newer]!] : []));
      if (newer.length === 0 && removeGone) {
        assemblyChanges = true;
        continue;
      }
      parts.push({
        ...product,
        placings: [place(0, component.placings[0]!.placement)],
        written: written(path),
      });
      if (newer.length < own.length && !removeGone)
        changes.warnings.push(`${path} is left as it is: not all of its bodies are in the source any more.`);
      else {
        const bytes = await followJoined(files, source, base, component, own, newer, timeStamp);
        changes.changes.push(write(path, project.files.get(path)!.sha256, bytes));
      }
      continue;
    }
    const present = component.placings.flatMap((_, n) => (own[n] || !removeGone ? [n] : []));
    const changed = present.filter((n) => own[n]?.change === 'changed');
    const first = changed[0] === undefined ? undefined : source.bodies[own[changed[0]]!.newer]!;
    const motions =
      first && changed.map((n) => motionBetween(measured, first.id, source.bodies[own[n]!.newer]!.id));
    const together =
      first && changed.length === present.length && motions!.every((motion) => motion !== null);
    if (present.length < component.placings.length) assemblyChanges = true;

    if (first && together) {
      const origin = invertRigid(component.bodies?.[0]?.placement ?? IDENTITY);
      const bodies = changed.map((n) => ({
        id: source.bodies[own[n]!.newer]!.id,
        name: source.bodies[own[n]!.newer]!.name,
      }));
      const bytes = writeBodyFile(source, [source.textOf(first)], {
        ...product,
        use: 'made',
        styles: true,
        origin,
        fileName: baseName(path),
        timeStamp,
        source: { written: relativePath(path, source.path), relation: 'split', sha256: base, bodies },
      });
      changes.changes.push(write(path, project.files.get(path)!.sha256, bytes));
      const placings = changed.map((n, at) => {
        const member = { body: source.bodies[own[n]!.newer]!, motion: motions![at]! };
        return place(n, placingOf(member, origin));
      });
      assemblyChanges = true;
      parts.push({ ...product, placings, written: written(path) });
      continue;
    }
    if (changed.length > 0) {
      // Some of the places that share this file have another shape now: they get files of their own.
      added.push(...changed.map((n) => own[n]!.newer));
      assemblyChanges = true;
    }
    const staying = present.filter((n) => !changed.includes(n));
    const now = new Map(
      component.placings.map(({ id }, n) => {
        const match = own[n];
        return [id, match && staying.includes(n) ? source.bodies[match.newer]! : null] as const;
      }),
    );
    changes.changes.push(
      write(
        path,
        project.files.get(path)!.sha256,
        renewSource(await files.read(path), component.link.written, base, now),
      ),
    );
    const placings = staying.map((n) => {
      const match = own[n];
      if (match?.motion) assemblyChanges = true;
      const { placement } = component.placings[n]!;
      return place(n, match?.motion ? multiply(match.motion, placement) : placement);
    });
    if (placings.length > 0) parts.push({ ...product, placings, written: written(path) });
  }

  // 2. New bodies.
  if (added.length > 0) {
    const choices = splitChoices({ bodies: added.map((n) => source.bodies[n]!.id) });
    const groups = groupBodies(source, choices, measured);
    const folder = folderOf(ties.assembly?.path ?? ties.components[0]!.path);
    const names = nameComponents(
      groups,
      choices,
      { stem: stemOf(source.path), folder },
      ({ representative }) => measured.get(representative.id)?.facts,
      takenIn(project),
    );
    for (const [n, group] of groups.entries()) {
      const { name, file } = names[n]!;
      const id = `${source.product.id}-N${group.representative.id}`;
      const bodies = bodiesIn(group).map(({ id: body, name: own }) => ({ id: body, name: own }));
      const bytes = writeBodyFile(source, [source.textOf(group.representative)], {
        id,
        name,
        use: 'made',
        styles: true,
        origin: IDENTITY,
        fileName: baseName(file),
        timeStamp,
        source: { written: relativePath(file, source.path), relation: 'split', sha256: base, bodies },
      });
      changes.changes.push(write(file, null, bytes));
      const placings = placingsOf(source.path, group, name, IDENTITY);
      parts.push({ id, name, placings, written: written(file) });
    }
  }

  // 3. The assembly.
  if (ties.assembly) {
    const { path, link, id, name } = ties.assembly;
    const before = project.files.get(path)!.sha256;
    if (!assemblyChanges) {
      changes.changes.push(
        write(path, before, renewSource(await files.read(path), link.written, base, new Map())),
      );
    } else if (!ties.isPure) {
      throw new SplitError(
        `${path} was changed since the split: it places other things too. Its placements cannot be renewed here; split the source anew beside it.`,
      );
    } else {
      const also = assemblySource(path, source.path, base);
      const bytes = writeAssembly({ id, name, fileName: baseName(path), timeStamp, components: parts, also });
      changes.changes.push(write(path, before, bytes));
    }
  }
  const count = (change: FollowLine['change']) =>
    outline.lines.filter((line) => line.change === change).length;
  changes.summary = `Followed ${baseName(source.path)}: ${count('changed')} changed, ${count('moved')} moved, ${count('new')} new, ${count('gone')} gone, ${count('unchanged')} unchanged`;
  return changes;
}

/**
 * A component of several bodies, brought up to the source: it stands in the source's coordinates, so whatever changed,
 * moved or went is written anew from the source's text.
 * @param newer the bodies that it has now
 */
async function followJoined(
  files: FileSet,
  source: SourcePart,
  base: string,
  { path, product, placings, link, bodies }: TiedComponent,
  own: readonly (BodyMatch | null)[],
  newer: readonly Body[],
  timeStamp: string,
): Promise<Uint8Array> {
  if (own.every((match) => match?.change === 'unchanged')) {
    const now = new Map(placings.map(({ id }, n) => [id, source.bodies[own[n]!.newer]!] as const));
    return renewSource(await files.read(path), link.written, base, now);
  }
  return writeBodyFile(
    source,
    newer.map((body) => source.textOf(body)),
    {
      ...product,
      use: 'made',
      styles: true,
      origin: invertRigid(bodies?.[0]?.placement ?? IDENTITY),
      fileName: baseName(path),
      timeStamp,
      source: {
        written: relativePath(path, source.path),
        relation: 'split',
        sha256: base,
        bodies: newer.map(({ id, name }) => ({ id, name })),
      },
    },
  );
}

/** The motion from one body of the source to another, as it is modelled; null when they are not the same shape. */
function motionBetween(measured: Measured, from: number, to: number): Matrix4 | null {
  if (from === to) return IDENTITY;
  const [a, b] = [from, to].map((id) => placedShape(measured.get(id) ?? {}, IDENTITY));
  return a && b ? (findMotion(a, b, toleranceFor(a.diagonal))?.matrix ?? null) : null;
}

/**
 * Plans to cut the tie of files to their source: they stay as they are and no longer follow it.
 * @param paths files that came out of the source; all of them when it is null
 * @throws SplitError when none of them is tied to it
 */
export async function planCutTie(
  project: Project,
  files: FileSet,
  source: string,
  paths: readonly string[] | null,
): Promise<ChangeSet> {
  const links = (project.usedBy.get(source) ?? []).filter(
    (link) => link.source && (paths === null || paths.includes(link.from)),
  );
  if (links.length === 0) throw new SplitError(`None of these files came out of ${source}.`);
  const changes: ChangeSet = { summary: '', changes: [], rewires: [], warnings: [] };
  for (const { from, written } of links)
    changes.changes.push(
      write(from, project.files.get(from)!.sha256, cutTie(await files.read(from), written)),
    );
  changes.summary = `Cut the tie of ${links.length === 1 ? baseName(links[0]!.from) : `${links.length} files`} to ${baseName(source)}`;
  return changes;
}
