import { useEffect, useState } from 'react';
import type { MeasuredThing, MeasureTool } from './measure-tool';

interface Measuring {
  tool: MeasureTool | null;
  /** Nothing, one thing, or two. */
  things: readonly MeasuredThing[];
  trouble: string | null;
}

/** Measuring on the stage, while it is switched on. The tool is fetched with three.js, in the browser only. */
export function useMeasuring(isOn: boolean): Measuring {
  const [tool, setTool] = useState<MeasureTool | null>(null);
  const [things, setThings] = useState<readonly MeasuredThing[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    if (!isOn) return;
    let isGone = false;
    void Promise.all([import('./measure-tool'), import('./exact-shapes')]).then(
      ([{ MeasureTool: Tool }, { ExactShapes, fetchExact }]) =>
        !isGone && setTool(new Tool(new ExactShapes(fetchExact), setThings, setTrouble)),
    );
    return () => {
      isGone = true;
      setTool(null);
      setThings([]);
      setTrouble(null);
    };
  }, [isOn]);
  return { tool, things, trouble };
}
