import { toleranceFor } from '#core/geometry/shape/congruence/congruence';
import { findMotion } from '#core/geometry/shape/congruence/motion';
import { placedShape } from '#core/geometry/shape/placed-shape';
import { placingOf } from '#core/jobs/split/groups';
import { placing } from '#core/jobs/split/placings';
import type { RemakeRules } from '#core/operation';
import { IDENTITY, invertRigid, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import type { ComponentToWrite } from '#core/product/write-components';
import type { BodyMatch } from './match';
import type { FollowOutline, Measured } from './outline';
import type { TiedComponent } from './ties';

/** What becomes of the file of one component. */
export type FileFate =
  | { does: 'stay' }
  /** It remembers the newer version: each older body by its number as it is now, null for one that is gone. */
  | { does: 'renew'; now: ReadonlyMap<number, Body | null> }
  /** It is written anew from the source's text. */
  | {
      does: 'rewrite';
      texts: readonly Body[];
      /** The bodies that it stands for. */
      items: readonly Body[];
      /** Position of a placing, and the body that it is of now. */
      pairs: readonly (readonly [n: number, newer: Body])[];
    };

/** What becomes of one component. */
export interface ComponentFate {
  component: TiedComponent;
  file: FileFate;
  /** Where the assembly places it; none where it leaves the assembly. */
  placings: ComponentToWrite['placings'];
  warning: string | null;
  /** Whether the assembly is another for it. */
  isMoved: boolean;
  /** Placings whose bodies get files of their own: they have another shape now than those that share this file. */
  parted: readonly { n: number; newer: number }[];
}

/** Decides what becomes of a component. Pure. */
export function decideFate(
  outline: FollowOutline,
  component: TiedComponent,
  { removeGone, take }: RemakeRules,
): ComponentFate {
  const { path, isJoined, placings } = component;
  const reason = outline.kept.get(path);
  const isTaken = reason !== undefined && take.includes(path) && component.bodies !== null;
  if (reason && !isTaken) {
    const stays = isJoined ? placings.slice(0, 1) : placings;
    return {
      component,
      file: { does: 'stay' },
      placings: stays.map(({ placement }, n) => placeAt(outline, component, n, placement)),
      warning: `${path} is left as it is. ${reason}`,
      isMoved: false,
      parted: [],
    };
  }
  const warning = isTaken ? `${path} loses what was changed in it: it is taken from the source anew.` : null;
  return isJoined
    ? { ...joinedFate(outline, component, removeGone, warning), component, parted: [] }
    : { ...ownFate(outline, component, removeGone), component, warning };
}

/**
 * A component of several bodies stands in the source's coordinates: whatever changed, moved or went is written anew from the
 * source's text.
 */
function joinedFate(
  outline: FollowOutline,
  component: TiedComponent,
  removeGone: boolean,
  warning: string | null,
): Omit<ComponentFate, 'component' | 'parted'> {
  const { path, placings } = component;
  const own = matchesOf(outline, component);
  const pairs = own.flatMap((match, n) => (match ? [[n, newerBody(outline, match)] as const] : []));
  if (pairs.length === 0 && removeGone)
    return { file: { does: 'stay' }, placings: [], warning, isMoved: true };
  const place = { placings: [placeAt(outline, component, 0, placings[0]!.placement)], isMoved: false };
  if (pairs.length < own.length && !removeGone)
    return {
      ...place,
      file: { does: 'stay' },
      warning: `${path} is left as it is: not all of its bodies are in the source any more.`,
    };
  const bodies = pairs.map(([, body]) => body);
  return own.every((match) => match?.change === 'unchanged')
    ? {
        ...place,
        file: { does: 'renew', now: new Map(pairs.map(([n, body]) => [placings[n]!.id, body] as const)) },
        warning,
      }
    : { ...place, file: { does: 'rewrite', texts: bodies, items: bodies, pairs }, warning };
}

/** A component of one body, placed once or more often. */
function ownFate(
  outline: FollowOutline,
  component: TiedComponent,
  removeGone: boolean,
): Omit<ComponentFate, 'component' | 'warning'> {
  const { placings } = component;
  const own = matchesOf(outline, component);
  const present = placings.flatMap((_, n) => (own[n] || !removeGone ? [n] : []));
  const changed = present.filter((n) => own[n]?.change === 'changed');
  const bodies = changed.map((n) => newerBody(outline, own[n]!));
  const first = bodies[0];

  // 1. All of them have the same new shape: the file gets it.
  const motions = first && bodies.map(({ id }) => motionBetween(outline.measured, first.id, id));
  if (first && changed.length === present.length && motions!.every((motion) => motion !== null)) {
    const origin = originOf(component);
    return {
      file: { does: 'rewrite', texts: [first], items: bodies, pairs: [[changed[0]!, first]] },
      placings: changed.map((n, at) =>
        placeAt(outline, component, n, placingOf({ body: bodies[at]!, motion: motions![at]! }, origin)),
      ),
      isMoved: true,
      parted: [],
    };
  }

  // 2. Those that have another shape now than the others leave the file; the others stay with it.
  const staying = present.filter((n) => !changed.includes(n));
  // A body that is gone and stays in its place is remembered as it was: the question is asked again next time.
  const now = new Map(
    placings.flatMap(({ id }, n) => {
      const match = own[n];
      if (!match && staying.includes(n)) return [];
      return [[id, match && staying.includes(n) ? newerBody(outline, match) : null] as const];
    }),
  );
  return {
    file: { does: 'renew', now },
    placings: staying.map((n) => {
      const motion = own[n]?.motion;
      const { placement } = placings[n]!;
      return placeAt(outline, component, n, motion ? multiply(motion, placement) : placement);
    }),
    isMoved:
      present.length < placings.length || changed.length > 0 || staying.some((n) => own[n]?.motion != null),
    parted: changed.map((n) => ({ n, newer: own[n]!.newer })),
  };
}

/** Where a component's body stands in its own file, seen from the source. */
export function originOf({ bodies }: TiedComponent): Matrix4 {
  return invertRigid(bodies?.[0]?.placement ?? IDENTITY);
}

function matchesOf({ matches }: FollowOutline, { path }: TiedComponent): readonly (BodyMatch | null)[] {
  return matches.get(path)!;
}

function newerBody({ source }: FollowOutline, { newer }: BodyMatch): Body {
  return source.bodies[newer]!;
}

function placeAt(outline: FollowOutline, component: TiedComponent, n: number, placement: Matrix4) {
  const match = matchesOf(outline, component)[n];
  const body = match ? newerBody(outline, match) : component.placings[n]!;
  return placing(body, component.product.name, placement);
}

/** The motion from one body of the source to another, as it is modelled; null when they are not the same shape. */
function motionBetween(measured: Measured, from: number, to: number): Matrix4 | null {
  if (from === to) return IDENTITY;
  const [a, b] = [from, to].map((id) => placedShape(measured.get(id) ?? {}, IDENTITY));
  return a && b ? (findMotion(a, b, toleranceFor(a.diagonal))?.matrix ?? null) : null;
}
