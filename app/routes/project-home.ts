import { href, redirect } from 'react-router';
import { inProject } from '#server/auth/guard';

export const loader = inProject('viewer', async ({ project }) =>
  redirect(href('/projects/:projectId/structure', { projectId: project.id })),
);
