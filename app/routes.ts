import { index, type RouteConfig, route } from '@react-router/dev/routes';

export default [
  index('routes/home.ts'),
  route('sign-in', 'routes/sign-in.tsx'),
  route('sign-out', 'routes/sign-out.ts'),
  route('projects', 'routes/projects.tsx'),
  route('projects/:projectId', 'routes/project.tsx', [
    index('routes/project-home.ts'),
    route('files', 'routes/files.tsx'),
    route('structure', 'routes/structure.tsx'),
    route('repair', 'routes/repair.tsx'),
    route('split', 'routes/split.tsx'),
    route('cut', 'routes/cut.tsx'),
    route('sources', 'routes/sources.tsx'),
    route('hand-off', 'routes/hand-off.tsx'),
    route('activity', 'routes/activity.tsx'),
    route('people', 'routes/people.tsx'),
  ]),
  route('projects/:projectId/split-outline', 'routes/split-outline.ts'),
  route('projects/:projectId/split-check', 'routes/split-check.ts'),
  route('projects/:projectId/cuts', 'routes/cuts.ts'),
  route('projects/:projectId/file-facts', 'routes/file-facts.ts'),
  route('projects/:projectId/events', 'routes/events.ts'),
  route('projects/:projectId/shapes/:sha256', 'routes/shapes.ts'),
  route('projects/:projectId/import', 'routes/import.ts'),
  route('projects/:projectId/package.zip', 'routes/package.ts'),
  route('projects/:projectId/content/:sha256', 'routes/content.ts'),
] satisfies RouteConfig;
