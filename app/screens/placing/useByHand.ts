import { useState } from 'react';
import { type FacePoint, laidOn } from '#core/geometry/shape/lay';
import { nameOf } from '#core/geometry/shape/measure';
import type { Matrix4 } from '#core/product/matrix';
import type { HandMotion, Held } from '../../stage/hand-tool';
import { type HandWay, useHand } from '../../stage/useHand';
import type { Measures } from '../../ui/measures/measures';
import { useMeasures } from '../../ui/measures/useMeasures';
import { draggedBy, movedBy, type Standing, standingOn } from './by-hand';

/** What can be moved by hand, and where it stands as it is settled. */
export interface HeldInAssembly extends Held {
  above: Matrix4;
  standing: Standing;
  /** Whether it is nowhere yet: its origin can be put on a face. */
  isNew: boolean;
  name: string;
}

interface Laying {
  moving: FacePoint;
  fixed: FacePoint;
  isTurnedOver: boolean;
  before: Standing;
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
  const [laying, setLaying] = useState<Laying | null>(null);

  const lay = (next: Laying) => {
    const motion = laidOn(next.moving, next.fixed, next.isTurnedOver);
    if (!motion || !held) {
      setSaid('A plane lies on a plane, an axis in an axis: these two do not go together.');
      return;
    }
    const faces = [next.moving, next.fixed].map(({ face }) => nameOf({ what: 'face', face }).toLowerCase());
    setSaid(`Laid: ${faces.join(' on ')}.`);
    setFirst(null);
    setLaying(next);
    onSettle(movedBy(motion, held.above, next.before));
  };
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
        setLaying(null);
      } else if (first) {
        lay({ moving: first, fixed: face, isTurnedOver: false, before: held.standing });
      } else if (held.isNew) {
        const normal = face.face.kind === 'plane' ? face.face.normal : face.normal;
        setSaid(`It stands on the ${nameOf({ what: 'face', face: face.face }).toLowerCase()}.`);
        onSettle(standingOn(face.point, normal, held.above));
      } else {
        setSaid(`First a face of ${held.name}.`);
      }
    },
    onTrouble: (words) => words && setSaid(words),
  });
  return {
    tool,
    way: held === null ? 'none' : way,
    setWay: (next: HandWay) => {
      setWay(next);
      setSaid(null);
      setFirst(null);
      setLaying(null);
    },
    words: said ?? (held && hintOf(way, first !== null, held)),
    turnOver: laying && (() => lay({ ...laying, isTurnedOver: !laying.isTurnedOver })),
  };
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
