import { useEffect, useRef, useState } from 'react';
import type { HandMotion, HandTool, Held } from './hand-tool';
import type { LaidFace, LayTool } from './lay-tool';

/** What somebody does with what is held: nothing, shift it, turn it, or lay a face of it on another. */
export type HandWay = 'none' | 'shift' | 'turn' | 'lay';

interface Told {
  onMove(by: HandMotion, isLetGo: boolean): void;
  onFace(face: LaidFace, isHeld: boolean): void;
  onTrouble(words: string | null): void;
}

/** A tool for the stage by which something is moved by hand. It is fetched with three.js, in the browser only. */
export function useHand(way: HandWay, held: Held | null, told: Told): HandTool | LayTool | null {
  const [hand, setHand] = useState<HandTool | null>(null);
  const [lay, setLay] = useState<LayTool | null>(null);
  const now = useRef({ held, ...told });
  now.current = { held, ...told };
  useEffect(() => {
    let isGone = false;
    void Promise.all([import('./hand-tool'), import('./lay-tool'), import('./exact-shapes')]).then(
      ([{ HandTool: Hand }, { LayTool: Lay }, { ExactShapes, fetchExact }]) => {
        if (isGone) return;
        setHand(new Hand((by, isLetGo) => now.current.onMove(by, isLetGo)));
        setLay(
          new Lay(
            new ExactShapes(fetchExact),
            (row) => now.current.held?.rows.has(row) ?? false,
            (face, isHeld) => now.current.onFace(face, isHeld),
            (words) => now.current.onTrouble(words),
          ),
        );
      },
    );
    return () => {
      isGone = true;
    };
  }, []);
  useEffect(() => hand?.set(held, way === 'turn'), [hand, held, way]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what has moved has left its face behind
  useEffect(() => lay?.forget(), [lay, held]);
  if (held === null || way === 'none') return null;
  return way === 'lay' ? lay : hand;
}
