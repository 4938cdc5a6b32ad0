import { enterProject } from '#server/auth/guard';
import type { Route } from './+types/project-door';

/** Stands before every page and every answer of a project: who asks is looked up once. */
export const middleware: Route.MiddlewareFunction[] = [
  (asked) => enterProject(asked, asked.params.projectId),
];
