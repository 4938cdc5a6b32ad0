import { existsSync } from 'node:fs';
import path from 'node:path';
import { index, layout, type RouteConfig, type RouteConfigEntry, route } from '@react-router/dev/routes';
import { registryEntries } from '../core/operations';

/**
 * The pages of operations and reports, as the registry names them: each a module of that name in `routes/`, or the one page that any report
 * can have.
 */
function registryPages(): RouteConfigEntry[] {
  const pages = new Set(registryEntries().map(({ page }) => page));
  return [...pages].map((page) =>
    existsSync(path.join(import.meta.dirname, 'routes', `${page}.tsx`))
      ? route(page, `routes/${page}.tsx`)
      : route(page, 'routes/report.tsx', { id: `report ${page}` }),
  );
}

export default [
  index('routes/home.ts'),
  route('sign-in', 'routes/sign-in.tsx'),
  route('sign-out', 'routes/sign-out.ts'),
  route('session', 'routes/session.ts'),
  route('projects', 'routes/projects.tsx'),
  route('account', 'routes/account.tsx'),
  route('events', 'routes/events.ts'),
  route('catalogue', 'routes/catalogue.tsx'),
  route('catalogue/:token', 'routes/catalogue-item.tsx'),
  route('catalogue/:token/picture', 'routes/catalogue-picture.ts'),
  route('catalogue/:token/model', 'routes/catalogue-model.ts'),
  route('catalogue/:token/:format', 'routes/catalogue-file.ts'),
  route('projects/:projectId', 'routes/project-door.ts', [
    layout('routes/project.tsx', [
      layout('routes/project-view.tsx', [
        index('routes/project-home.ts'),
        ...registryPages(),
        route('again', 'routes/again.tsx'),
        route('look', 'routes/look.tsx'),
        route('people', 'routes/people.tsx'),
        route('settings', 'routes/settings.tsx'),
      ]),
    ]),
    route('tasks', 'routes/tasks.ts'),
    route('operations', 'routes/operations.ts'),
    route('upload', 'routes/upload.ts'),
    route('preparation', 'routes/preparation.ts'),
    route('split-check', 'routes/split-check.ts'),
    route('pictures/:sha256', 'routes/pictures.ts'),
    route('file-facts', 'routes/file-facts.ts'),
    route('file-rows', 'routes/file-rows.ts'),
    route('running', 'routes/running.ts'),
    route('standing', 'routes/standing.ts'),
    route('kept', 'routes/kept.ts'),
    route('shapes/:sha256/:gltf', 'routes/shapes.ts'),
    route('shapes/:sha256/:gltf/:body', 'routes/exact.ts'),
    route('package.zip', 'routes/package.ts'),
    route('find', 'routes/find.ts'),
    route('files.zip', 'routes/files-zip.ts'),
    route('export.zip', 'routes/export.ts'),
    route('shown/:sha256', 'routes/shown.ts'),
    route('content/:sha256', 'routes/content.ts'),
    route('latest', 'routes/latest.ts'),
    route('picture', 'routes/picture.ts'),
    route('star', 'routes/star.ts'),
    route('portrait', 'routes/portrait.ts'),
  ]),
] satisfies RouteConfig;
