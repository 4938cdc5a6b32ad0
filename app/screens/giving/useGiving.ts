import { useOutletContext } from 'react-router';
import type { z } from 'zod';
import type { WholeView } from '#server/views/operations/whole-view';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { useKept } from '../../ui/useKept';

/**
 * What a page works with that gives something away of a whole: its choices, which outlive the page, and what would come of them.
 * @param more what is wished for besides what is kept
 */
export function useGiving<Choices extends object, Preview>(
  operation: string,
  { root, trouble }: Pick<WholeView, 'root' | 'trouble'>,
  schema: z.ZodType<Choices>,
  first: () => Choices,
  more: Partial<Choices> = {},
) {
  const { projectId } = useOutletContext<ProjectContext>();
  const {
    state: choices,
    setState,
    forget,
  } = useKept(`${operation} ${projectId} ${root}`, '2', schema, first);
  const making = useOperation<Preview>(
    operation,
    root === null || trouble !== null ? null : { ...choices, ...more, file: root },
  );
  return {
    projectId,
    choices,
    setChoices: setState as (next: Choices) => void,
    /** Makes other choices in part. */
    set: (part: Partial<Choices>) => setState((before) => ({ ...before, ...part })),
    forget,
    making,
    preview: making.planned?.preview ?? null,
    isDone: making.isDone,
  };
}
