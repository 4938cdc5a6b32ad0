import { type RefObject, useEffect, useRef, useState } from 'react';
import type { Point } from '#core/geometry/shape/cut';
import { seenFrom } from './seen-from';
import type { StageView } from './stage-view';
import type { StageFacePick, StagePick } from './types';

/** What the view tells of. The newest ones are told, whenever it was made. */
interface StageTold {
  pick(picked: StagePick | StageFacePick | null, isAdded: boolean): void;
  onName?(row: number, name: string): void;
  openMenu(picked: StagePick | null, at: [x: number, y: number]): void;
}

/** Makes the 3D view on a canvas, in the browser only, and takes it down with it. */
export function useStageView(
  canvas: RefObject<HTMLCanvasElement | null>,
  layer: RefObject<HTMLDivElement | null>,
  tell: StageTold,
) {
  const [view, setView] = useState<StageView | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [loading, setLoading] = useState({ left: 0, failed: 0, why: null as string | null });
  const [hover, setHover] = useState<StagePick | null>(null);
  const [shift, setShift] = useState<Point>([0, 0, 0]);
  const [lookedFrom, setLookedFrom] = useState('');
  const told = useRef(tell);
  told.current = tell;

  // biome-ignore lint/correctness/useExhaustiveDependencies: a canvas has one view as long as it is there
  useEffect(() => {
    let made: StageView | undefined;
    let gone = false;
    void import('./stage-view').then(({ StageView: View }) => {
      if (gone || !canvas.current || !layer.current) return;
      try {
        const callbacks = {
          onPick: (picked: StagePick | StageFacePick | null, isAdded: boolean) =>
            told.current.pick(picked, isAdded),
          onMenu: (picked: StagePick | null, at: [x: number, y: number]) => told.current.openMenu(picked, at),
          onShift: setShift,
          onSeenFrom: (towards: Point) => setLookedFrom(seenFrom(towards)),
          onHover: setHover,
          onLoading: (left: number, failed: number, why: string | null) => setLoading({ left, failed, why }),
          onName: (row: number, name: string) => told.current.onName?.(row, name),
        };
        made = new View(canvas.current, callbacks, layer.current);
        setView(made);
      } catch {
        setTrouble(
          'This browser cannot draw in 3D: WebGL is switched off or missing. The table works without it.',
        );
      }
    });
    return () => {
      gone = true;
      made?.dispose();
      setView(null);
    };
  }, []);
  return { view, trouble, loading, hover, shift, setShift, lookedFrom };
}
