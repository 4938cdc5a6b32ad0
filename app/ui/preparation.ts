import type { SubmitOptions } from 'react-router';

/** Where the preparation of a project's shapes is begun, stopped, or tried again. */
export function preparationOf(projectId: string): SubmitOptions {
  return { method: 'post', action: `/projects/${projectId}/preparation` };
}
