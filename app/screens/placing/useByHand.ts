import { useEffect, useState } from 'react';
import type { ExactFace } from '#core/geometry/shape/exact';
import type { FacePoint } from '#core/geometry/shape/lay';
import type { Matrix4 } from '#core/product/matrix';
import type { HandMotion, Held } from '../../stage/hand-tool';
import type { LaidFace } from '../../stage/lay-tool';
import { type HandWay, useHand } from '../../stage/useHand';
import type { Measures } from '../../ui/measures/measures';
import { useMeasures } from '../../ui/measures/useMeasures';
import { draggedBy, type Standing } from './by-hand';
import type { Laying } from './on-face';

/** What can be moved by hand, and where it stands as it is settled. */
export interface HeldInAssembly extends Held {
  above: Matrix4;
  standing: Standing;
  /** Whether it is nowhere yet: its origin can be put on a face. */
  isNew: boolean;
  name: string;
}

/** Laid, and where it has stood since. */
interface Laid extends Laying {
  after: Standing;
}

/**
 * Moves what is held on the stage, and says how far.
 * @param onDrag told where it stands while it is dragged; null when it is let go
 * @param onSettle told where it stands from now on
 */
export function useByHand(
  held: HeldInAssembly | null,
  onDrag: (standing: Standing | null) => void,
  onSettle: (standing: Standing) => void,
) {
  const measures = useMeasures();
  const [way, setWay] = useState<HandWay>('none');
  const [said, setSaid] = useState<string | null>(null);
  const [first, setFirst] = useState<FacePoint | null>(null);
  const [laid, setLaid] = useState<Laid | null>(null);

  const lay = async (next: Laying) => {
    const { standingLaid } = await import('./on-face');
    const after = held && standingLaid(next, held.above);
    if (!after) {
      setSaid('A plane lies on a plane, an axis in an axis: these two do not go together.');
      return;
    }
    setSaid(`Laid: ${[next.moving, next.fixed].map(({ face }) => wordsOf(face)).join(' on ')}.`);
    setFirst(null);
    setLaid({ ...next, after });
    onSettle(after);
  };
  const standOn = async ({ face, point, normal }: LaidFace, above: Matrix4) => {
    const { standingOn } = await import('./on-face');
    setSaid(`It stands on the ${wordsOf(face)}.`);
    onSettle(standingOn(point, face.kind === 'plane' ? face.normal : normal, above));
  };
  // The face of what has moved since is elsewhere.
  // biome-ignore lint/correctness/useExhaustiveDependencies: whatever is held now
  useEffect(() => setFirst(null), [held]);
  const who = held && `${held.name} ${[...held.rows][0]}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was said is of another
  useEffect(() => {
    setSaid(null);
    setLaid(null);
  }, [who]);
  const tool = useHand(way, held, {
    onMove: (by, isLetGo) => {
      if (!held) return;
      const standing = draggedBy(by, held.above, held.standing);
      setSaid(inWords(by, measures));
      onDrag(isLetGo ? null : standing);
      if (isLetGo) onSettle(standing);
    },
    onFace: (face, isHeld) => {
      if (!held) return;
      if (isHeld) {
        setFirst(face);
        setSaid(null);
        setLaid(null);
      } else if (first) {
        void lay({ moving: first, fixed: face, isTurnedOver: false, before: held.standing });
      } else if (held.isNew) {
        void standOn(face, held.above);
      } else {
        setSaid(`First a face of ${held.name}.`);
      }
    },
    onTrouble: (words) => words && setSaid(words),
  });
  const isStill = laid !== null && held !== null && isSame(laid.after, held.standing);
  return {
    tool,
    way: held === null ? 'none' : way,
    setWay: (next: HandWay) => {
      setWay(next);
      onDrag(null);
      setSaid(null);
      setFirst(null);
      setLaid(null);
    },
    words: said ?? (held && hintOf(way, first !== null, held)),
    turnOver: isStill && (() => void lay({ ...laid, isTurnedOver: !laid.isTurnedOver })),
  };
}

const wordsOf = ({ kind }: ExactFace): string => (kind === 'free' ? 'free-form face' : kind);

function isSame(one: Standing, other: Standing): boolean {
  const values = ({ position, turn }: Standing) => [...position, ...turn];
  return values(one).every((value, n) => value === values(other)[n]);
}

function hintOf(way: HandWay, hasFirst: boolean, { isNew, name }: HeldInAssembly): string | null {
  if (way === 'shift') return 'Drag an arrow.';
  if (way === 'turn') return 'Drag a ring.';
  if (way !== 'lay') return null;
  if (hasFirst) return 'Now the face that it is laid on.';
  return isNew
    ? `Click a face of ${name}, then the one that it is laid on; or at once the face that it stands on.`
    : `Click a face of ${name}, then the one that it is laid on.`;
}

/** @example '12 mm along x' */
function inWords({ shift, turn }: HandMotion, measures: Measures): string {
  if (turn) return `${measures.figure(turn.angle, '°')} about ${'xyz'[turn.axis]}`;
  const parts = shift.flatMap((value, n) =>
    value === 0 ? [] : [`${measures.figure(value, 'mm')} along ${'xyz'[n]}`],
  );
  return parts.join(', ') || `${measures.figure(0, 'mm')}`;
}
