import { type ChangeSet, write } from '#core/change/change-set';
import type { FileSet } from '#core/change/file-set';
import { baseName, folderOf, relativePath, stemOf } from '#core/links/paths';
import { renewSource } from '#core/links/renew-sources';
import { cutTie } from '#core/links/source';
import type { Colour } from '#core/product/appearance';
import { IDENTITY, invertRigid, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import type { ComponentToWrite } from '#core/product/write-components';
import type { Project } from '#core/scan/project';
import { toleranceFor } from '#core/shape/congruence/congruence';
import { findMotion } from '#core/shape/congruence/motion';
import { writeBodyFile } from '#core/split/body-file';
import { splitChoices } from '#core/split/choices';
import { bodiesIn, groupBodies, placingOf } from '#core/split/groups';
import { nameComponents } from '#core/split/names';
import { placedShape } from '#core/split/placed-shape';
import { assemblySource, placing, placingsOf, takenIn } from '#core/split/placings';
import { SplitError } from '#core/split/split-error';
import type { FollowLine, FollowOutline, Measured } from './outline';
import { productOf, type TiedComponent } from './ties';

export interface FollowChoices {
  /** Bodies that the source no longer has leave the assembly; their files stay. */
  removeGone: boolean;
  /** Components that are brought up to the source although they have changes of their own, by path. */
  overwrite?: ReadonlySet<string>;
}

/**
 * Plans to bring everything that came out of a source up to its newest version, in one change: changed bodies get a new
 * version of their file, moved ones a new placement, new ones a file; what has changes of its own is left alone.
 * @param timeStamp ISO 8601 without zone, for the headers
 * @param onComponent told before each component is written; what it throws ends the planning
 * @throws SplitError when the assembly has components of its own and placements would have to change
 */
export async function planFollow(
  project: Project,
  files: FileSet,
  outline: FollowOutline,
  { removeGone, overwrite = new Set() }: FollowChoices,
  timeStamp: string,
  onComponent?: (done: number, of: number) => Promise<void>,
): Promise<ChangeSet> {
  const { ties, source, measured, matches, kept, taken } = outline;
  const added = [...outline.added];
  const base = project.files.get(source.path)!.sha256;
  const changes: ChangeSet = { summary: '', changes: [], rewires: [], warnings: [] };
  const parts: ComponentToWrite[] = [];
  /** Bodies that get a file of their own, and whose file they shared, by number. */
  const parted = new Map<number, { component: TiedComponent; n: number }>();
  let assemblyChanges = added.length > 0;
  const written = (path: string) => relativePath(ties.assembly?.path ?? path, path);

  // 1. Components that there are.
  for (const [at, component] of ties.components.entries()) {
    await onComponent?.(at, ties.components.length);
    const { path, product } = component;
    const own = matches.get(path)!;
    const place = (n: number, placement: Matrix4) => {
      const body = own[n] ? source.bodies[own[n].newer]! : component.placings[n]!;
      return placing(body, product.name, placement);
    };
    const reason = kept.get(path);
    if (reason && overwrite.has(path) && component.bodies)
      changes.warnings.push(`${path} loses what was changed in it: it is taken from the source anew.`);
    else if (reason) {
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
        const bytes = await followJoined(files, outline, base, component, newer, timeStamp);
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
        ...kindOf(component),
        ...appearanceOf(component, [[changed[0]!, first]], taken),
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
      for (const n of changed) {
        added.push(own[n]!.newer);
        parted.set(source.bodies[own[n]!.newer]!.id, { component, n });
      }
      assemblyChanges = true;
    }
    const staying = present.filter((n) => !changed.includes(n));
    // A body that is gone and stays in its place is remembered as it was: the question is asked again next time.
    const now = new Map(
      component.placings.flatMap(({ id }, n) => {
        const match = own[n];
        if (!match && staying.includes(n)) return [];
        return [[id, match && staying.includes(n) ? source.bodies[match.newer]! : null] as const];
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
      const { representative } = group;
      const from = parted.get(representative.id);
      const bytes = writeBodyFile(source, [source.textOf(representative)], {
        ...(from ? kindOf(from.component) : { use: 'made' }),
        ...(from ? appearanceOf(from.component, [[from.n, representative]], taken) : { styles: true }),
        id,
        name,
        origin: IDENTITY,
        fileName: baseName(file),
        timeStamp,
        source: { written: relativePath(file, source.path), relation: 'split', sha256: base, bodies },
      });
      changes.changes.push(write(file, null, bytes));
      const placings = placingsOf(group, name, IDENTITY);
      parts.push({ id, name, placings, written: written(file) });
    }
  }

  // 3. Files that nothing of the source is in any more are not behind it for ever.
  for (const { from, written: back } of ties.bereft)
    changes.changes.push(
      write(
        from,
        project.files.get(from)!.sha256,
        renewSource(await files.read(from), back, base, new Map()),
      ),
    );

  // 4. The assembly.
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
      const also = assemblySource(path, source.path, base, productOf(ties));
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
  { source, matches, taken }: FollowOutline,
  base: string,
  component: TiedComponent,
  newer: readonly Body[],
  timeStamp: string,
): Promise<Uint8Array> {
  const { path, placings, link, bodies } = component;
  const own = matches.get(path)!;
  if (own.every((match) => match?.change === 'unchanged')) {
    const now = new Map(placings.map(({ id }, n) => [id, source.bodies[own[n]!.newer]!] as const));
    return renewSource(await files.read(path), link.written, base, now);
  }
  return writeBodyFile(
    source,
    newer.map((body) => source.textOf(body)),
    {
      ...kindOf(component),
      ...appearanceOf(
        component,
        own.flatMap((match, n) => (match ? [[n, source.bodies[match.newer]!] as const] : [])),
        taken,
      ),
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

/** What a component keeps of its product when it is written anew. */
function kindOf({ product }: TiedComponent) {
  return { ...product, use: product.use ?? ('made' as const) };
}

/**
 * How a component that is written anew looks: as the source does now, but a colour that the component was given, at the
 * split or later, stays.
 * @param pairs position of the placing, and the body that it is of now
 */
function appearanceOf(
  { bodies, placings, memory }: TiedComponent,
  pairs: readonly (readonly [n: number, newer: Body])[],
  taken: FollowOutline['taken'],
): { styles: boolean; colours: Map<number, Colour> } {
  const colours = new Map<number, Colour>();
  const version = taken.get(memory.sha256 ?? '');
  let styles = false;
  for (const [n, newer] of pairs) {
    const own = bodies?.[n]?.colour ?? null;
    const older = version?.bodies.find(({ id }) => id === placings[n]!.id) ?? newer;
    if (own !== null && own !== older.colour) colours.set(newer.id, own);
    // A body that was split off without the colours of its source stays without.
    if (own !== null || older.colour === null) styles = true;
  }
  return { styles, colours };
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
