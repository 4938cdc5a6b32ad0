import { useEffect, useRef, useState } from 'react';
import type { Point } from '#core/geometry/shape/cut';
import type { SketchTool } from './sketch-tool';
import type { StageSketch } from './types';

/**
 * A tool for the stage that shows a drawing. It is fetched with three.js, in the browser only.
 * @param onPoint told where a click laid a point, mm
 */
export function useSketch(sketch: StageSketch | null, onPoint: (point: Point) => void): SketchTool | null {
  const [tool, setTool] = useState<SketchTool | null>(null);
  const laid = useRef(onPoint);
  laid.current = onPoint;
  useEffect(() => {
    let isGone = false;
    void import('./sketch-tool').then(
      ({ SketchTool: Tool }) => !isGone && setTool(new Tool((point) => laid.current(point))),
    );
    return () => {
      isGone = true;
    };
  }, []);
  useEffect(() => tool?.set(sketch), [tool, sketch]);
  return tool;
}
