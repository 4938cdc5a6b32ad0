import type { SourcePart } from '#core/geometry/bodies/source-part';
import { toleranceFor } from '#core/geometry/shape/congruence/congruence';
import { findMotion } from '#core/geometry/shape/congruence/motion';
import { type MeasuredBody, placedShape } from '#core/geometry/shape/placed-shape';
import { choicesOfRecipe } from '#core/jobs/split/choices';
import { appearanceKey } from '#core/product/appearance';
import { IDENTITY } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { type BodyMatch, type BodyToMatch, matchBodies } from './match';
import { placementOfBody, recipeIn, type TiedComponent, type Ties, tiesTo } from './ties';

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
  /** Volume and sides as far as the kernel knows them, before and now. */
  before: BodySize | null;
  now: BodySize | null;
  /** How far the centre went, for a body that moved, mm. */
  way: number | null;
  /** Why the component is left alone unless one says otherwise; null when it follows. */
  kept: string | null;
  /** Whether it can be taken from the source all the same. */
  mayBeTaken: boolean;
}

/** How large a body is. */
export interface BodySize {
  /** mm³. */
  volume: number;
  /** Of the box, along the axes of the part, mm. */
  sides: [number, number, number];
}

/** What is known of a component file besides its scan. */
export interface ComponentContent {
  measured: Measured;
  /** What was added to it since the split; see `additionsOf`. */
  additions: readonly string[];
}

/** A version of the source that components were taken from. */
export interface TakenVersion {
  measured?: Measured;
  bodies: readonly Body[];
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
  /** Why components are left alone, by path. */
  kept: ReadonlyMap<string, string>;
  /** Older versions of the source, by hash, as far as they are still known. */
  taken: ReadonlyMap<string, TakenVersion>;
}

/** What is known of both versions before they are held against each other. */
interface BothVersions {
  ties: Ties;
  source: SourcePart;
  measured: Measured;
  contentOf: (path: string) => ComponentContent;
  taken: FollowOutline['taken'];
  /** The older version: every placing of every component, where it stands. */
  places: { component: TiedComponent; n: number; size: BodySize | null }[];
  older: BodyToMatch[];
  newer: BodyToMatch[];
  /** Why components are left alone, by path. */
  kept: Map<string, string>;
}

/**
 * Matches a source's newest version with the files that came out of an older one.
 * @param contentOf a component file, by path
 * @param taken older versions of the source, by hash, as far as they are still known
 * @throws Refusal when no file came out of this source
 */
export function outlineFollow(
  project: Project,
  source: SourcePart,
  measured: Measured,
  contentOf: (path: string) => ComponentContent,
  taken: ReadonlyMap<string, TakenVersion> = new Map(),
): FollowOutline {
  const ties = tiesTo(project, source.path);
  if (ties.components.length === 0) throw new Refusal(`No file of this project came out of ${source.path}.`);
  const both = bothVersions({ ties, source, measured, contentOf, taken });
  const matching = matchBodies(both.older, both.newer);
  const matches = matchesByComponent(both, matching.matches);
  keepAdditions(both, matches);
  const added = addedBodies(both, matching.added);
  const lines = [
    ...matching.matches.map((match) => lineOfMatch(both, match)),
    ...matching.gone.map((n) => lineOfGone(both, n)),
    ...added.map((n) => lineOfNew(both, n)),
  ];
  const order = ['changed', 'moved', 'new', 'gone', 'unchanged'];
  lines.sort((a, b) => order.indexOf(a.change) - order.indexOf(b.change));
  return { ties, source, measured, lines, matches, added, kept: both.kept, taken };
}

/** Both versions, every body where it stands, and what somebody has worked on since. */
function bothVersions(
  versions: Pick<BothVersions, 'ties' | 'source' | 'measured' | 'contentOf' | 'taken'>,
): BothVersions {
  const { ties, source, measured, contentOf, taken } = versions;
  const both: BothVersions = { ...versions, places: [], older: [], newer: [], kept: new Map() };
  for (const component of ties.components) {
    const there = contentOf(component.path).measured;
    const own = component.bodies?.map(({ id }) => there.get(id)) ?? [];
    const reason = whyKept(component, own, taken.get(component.memory.sha256 ?? '')?.measured);
    if (reason) both.kept.set(component.path, reason);
    for (const [n, { id, name }] of component.placings.entries()) {
      both.places.push({ component, n, size: sizeOf(own[n]) });
      const shape = own[n] ? placedShape(own[n], placementOfBody(component, n)) : null;
      both.older.push({ id, name, shape });
    }
  }
  both.newer = source.bodies.map(({ id, name, placement }): BodyToMatch => {
    const own = measured.get(id);
    return { id, name, shape: own ? placedShape(own, placement ?? IDENTITY) : null };
  });
  return both;
}

/** Who became whom, by component and position of the placing. The same shape in other colours is changed, too. */
function matchesByComponent(
  { ties, taken, places, source }: BothVersions,
  found: readonly BodyMatch[],
): FollowOutline['matches'] {
  const matches = new Map(
    ties.components.map(({ path, placings }) => [path, placings.map((): BodyMatch | null => null)]),
  );
  for (const match of found) {
    const { component, n } = places[match.older]!;
    const before = taken
      .get(component.memory.sha256 ?? '')
      ?.bodies.find(({ id }) => id === component.placings[n]!.id);
    if (before && appearanceKey(before) !== appearanceKey(source.bodies[match.newer]!))
      match.change = 'changed';
    matches.get(component.path)![n] = match;
  }
  return matches;
}

/** What would be written anew and has additions of its own is left alone: only that can lose them. */
function keepAdditions({ ties, contentOf, kept }: BothVersions, matches: FollowOutline['matches']): void {
  for (const { path } of ties.components) {
    const isRewritten = matches.get(path)!.some((match) => match?.change === 'changed');
    const { additions } = contentOf(path);
    if (isRewritten && additions.length > 0 && !kept.has(path))
      kept.set(path, `It has additions of its own: ${additions.join(', ')}.`);
  }
}

/**
 * Bodies that were there before and were not split off are not new; without an assembly nobody asked for all of them.
 * @param unmatched positions of bodies that match nothing
 */
function addedBodies({ ties, source, taken, newer }: BothVersions, unmatched: readonly number[]): number[] {
  const { surfaces } = choicesOfRecipe(recipeIn(ties));
  const candidates = ties.assembly
    ? unmatched.filter((n) => surfaces || source.bodies[n]!.kind === 'solid')
    : [];
  const before = taken.get(ties.assembly?.link.source?.sha256 ?? '')?.measured;
  if (!before || candidates.length === 0) return candidates;
  const known = new Set(matchBodies(shapesOnly(before), newer).matches.map((match) => match.newer));
  return candidates.filter((n) => !known.has(n));
}

function lineOfMatch(both: BothVersions, match: BodyMatch): FollowLine {
  const { component, n, size } = both.places[match.older]!;
  return {
    change: match.change,
    component: component.path,
    older: component.placings[n]!,
    newer: newerBody(both, match.newer),
    how: match.how,
    confidence: match.confidence,
    before: size,
    now: newerSize(both, match.newer),
    way: match.change === 'moved' ? wayBetween(both.older[match.older]!, both.newer[match.newer]!) : null,
    kept: both.kept.get(component.path) ?? null,
    mayBeTaken: component.bodies !== null,
  };
}

function lineOfGone({ places, kept }: BothVersions, at: number): FollowLine {
  const { component, n, size } = places[at]!;
  return {
    change: 'gone',
    component: component.path,
    older: component.placings[n]!,
    newer: null,
    how: null,
    confidence: null,
    before: size,
    now: null,
    way: null,
    kept: kept.get(component.path) ?? null,
    mayBeTaken: component.bodies !== null,
  };
}

function lineOfNew(both: BothVersions, n: number): FollowLine {
  return {
    change: 'new',
    component: null,
    older: null,
    newer: newerBody(both, n),
    how: null,
    confidence: null,
    before: null,
    now: newerSize(both, n),
    way: null,
    kept: null,
    mayBeTaken: true,
  };
}

function newerBody({ source }: BothVersions, n: number): { id: number; name: string } {
  const { id, name } = source.bodies[n]!;
  return { id, name };
}

function newerSize({ source, measured }: BothVersions, n: number): BodySize | null {
  return sizeOf(measured.get(source.bodies[n]!.id));
}

function sizeOf(body: MeasuredBody | undefined): BodySize | null {
  if (!body?.facts) return null;
  const [a, b, c, d, e, f] = body.facts.box;
  return { volume: body.facts.volume, sides: [d - a, e - b, f - c] };
}

function wayBetween(older: BodyToMatch, newer: BodyToMatch): number | null {
  if (!older.shape || !newer.shape) return null;
  return Math.hypot(...older.shape.centre.map((value, n) => value - newer.shape!.centre[n]!));
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
