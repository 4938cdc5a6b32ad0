import { Button } from '@mantine/core';
import { useFetcher, useOutletContext } from 'react-router';
import type { action as undoAction } from '../routes/activity';
import type { ProjectContext } from '../screens/project/ProjectFrame';

/**
 * Taking back the change that a page has just made.
 * @param changeSet its id; null while there is none
 * @returns whether it was taken back, and the button that does it
 */
export function useUndo(
  changeSet: string | null | undefined,
  label = 'Undo',
): { undone: boolean; button: React.ReactNode } {
  const { projectId } = useOutletContext<ProjectContext>();
  const undo = useFetcher<typeof undoAction>();
  const undone = !!changeSet && !!undo.data && 'undone' in undo.data && undo.data.undone === changeSet;
  const trouble = undo.data && 'error' in undo.data ? undo.data.error : null;
  const button = changeSet && !undone && (
    <undo.Form method="post" action={`/projects/${projectId}/activity`}>
      <input type="hidden" name="changeSet" value={changeSet} />
      <Button type="submit" variant="default" loading={undo.state !== 'idle'} title={trouble ?? undefined}>
        {trouble ? 'It cannot be undone' : label}
      </Button>
    </undo.Form>
  );
  return { undone, button };
}
