import { useEffect, useState } from 'react';
import type { FacesTool, LitFace } from './faces-tool';

/** A tool for the stage that lights faces. It is fetched with three.js, in the browser only. */
export function useLitFaces(faces: readonly LitFace[]): FacesTool | null {
  const [tool, setTool] = useState<FacesTool | null>(null);
  useEffect(() => {
    let isGone = false;
    void import('./faces-tool').then(({ FacesTool: Tool }) => !isGone && setTool(new Tool()));
    return () => {
      isGone = true;
    };
  }, []);
  useEffect(() => tool?.set(faces), [tool, faces]);
  return tool;
}
