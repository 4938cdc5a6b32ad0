import { useEffect } from 'react';
import { useOutletContext } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import type { ProjectContext } from './project-context';

/** Tells the frame which files are selected here, so that the palette is filled in with them; none when the view is left. */
export function useSelection(files: readonly FileToWorkOn[]): void {
  const { select } = useOutletContext<ProjectContext>();
  useEffect(() => {
    select(files);
    return () => select([]);
  }, [select, files]);
}
