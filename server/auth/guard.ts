import { data, redirect } from 'react-router';
import { type Database, database } from '#server/db/connection';
import { type User, userOf } from './sessions';

export type Role = 'viewer' | 'editor' | 'owner';

const RANK: { [role in Role]: number } = { viewer: 0, editor: 1, owner: 2 };

/** Who asks, and the database to answer from. */
export interface Signed {
  db: Database;
  user: User;
}

/** A member's way into one project. */
export interface ProjectAccess extends Signed {
  project: { id: string; name: string; description: string; revision: number; searchFolders: string[] };
  role: Role;
}

/**
 * The one door: every loader and action behind the sign-in page passes through here or `requireProject`.
 * @throws a redirect to the sign-in page, or 403 for a form sent from another site
 */
export async function requireUser(request: Request): Promise<Signed> {
  refuseForeignForm(request);
  const db = database();
  const user = await userOf(db, request);
  if (user) return { db, user };
  const { pathname, search } = new URL(request.url);
  throw redirect(`/sign-in?next=${encodeURIComponent(pathname.replace(/\.data$/, '') + search)}`);
}

/**
 * Lets members in, with the role that the work at hand needs.
 * @throws 404 for people who are not members (they do not learn that the project exists), 403 for too low a role
 */
export async function requireProject(
  request: Request,
  projectId: string | undefined,
  needs: Role,
): Promise<ProjectAccess> {
  const { db, user } = await requireUser(request);
  const isId = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(projectId ?? '');
  const row = isId
    ? await db('projects')
        .join('members', 'members.project_id', 'projects.id')
        .where({ 'projects.id': projectId, user_id: user.id })
        .first('projects.*', 'members.role')
    : undefined;
  if (!row) throw data('There is no such project, or you are not a member of it.', { status: 404 });
  const role = row.role as Role;
  if (RANK[role] < RANK[needs])
    throw data(`This needs the role ${needs}; you are ${role} here. Ask an owner of ${row.name}.`, {
      status: 403,
    });
  return {
    db,
    user,
    role,
    project: {
      id: row.id,
      name: row.name,
      description: row.description,
      revision: Number(row.revision),
      searchFolders: row.search_folders,
    },
  };
}

/** Browsers name the site that a form comes from; only our own may change anything. */
export function refuseForeignForm(request: Request): void {
  if (request.method === 'GET' || request.method === 'HEAD') return;
  const origin = request.headers.get('Origin');
  if (origin === null) return;
  const host =
    request.headers.get('X-Forwarded-Host') ?? request.headers.get('Host') ?? new URL(request.url).host;
  if (origin === 'null' || new URL(origin).host !== host)
    throw data('This form was sent from another site.', { status: 403 });
}
