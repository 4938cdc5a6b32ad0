import { createContext, data, type RouterContextProvider, redirect } from 'react-router';
import { refusalOf } from '#core/refusal';
import { sayWho } from '#server/asked';
import { AWAY_WORDS, isAway } from '#server/db/away';
import { type Database, database } from '#server/db/connection';
import { defectInWords } from '#server/log';
import { sessionHash, type User, userOf } from './sessions';

export type Role = 'viewer' | 'editor' | 'owner';

export const RANK: { [role in Role]: number } = { viewer: 0, editor: 1, owner: 2 };

/** Who asks, and the database to answer from. */
export interface Signed {
  db: Database;
  user: User;
  /** What the session is stored under. */
  session: string;
}

/** A member's way into one project. */
export interface ProjectAccess extends Signed {
  project: {
    id: string;
    name: string;
    description: string;
    revision: number;
    searchFolders: string[];
    /** Nothing in it changes. */
    isArchived: boolean;
  };
  role: Role;
}

/** What loaders and actions are given, as far as the guard needs it. */
interface Asked {
  request: Request;
  context: Readonly<RouterContextProvider>;
}

/** Who asks in a project. */
const asking = createContext<Promise<ProjectAccess>>();

/** The door before everything in a project: who asks is looked up once a request, before any of its loaders. */
export function enterProject({ request, context }: Asked, projectId: string | undefined): void {
  const access = signedIn(request).then((signed) => accessTo(signed, projectId));
  // Whoever answers throws it; nobody may be there to do so.
  access.catch(() => {});
  context.set(asking, access);
}

type Answer<Args, Result> = (access: ProjectAccess, args: Args) => Promise<Result>;

/**
 * A loader or action of a page in a project, for members with the role that the work at hand needs. What it does not expect is logged
 * as a defect, and the person reads its number.
 * @throws a redirect to the sign-in page; 404 for people who are not members: they do not learn that the project exists; 403 for too
 * low a role
 */
export function inProject<Args extends Asked, Result>(
  needs: Role,
  answer: Answer<Args, Result>,
): (args: Args) => Promise<Result> {
  return (args) =>
    inWords(args.request, async (place) => {
      const access = await args.context.get(asking);
      place.project = access.project.id;
      place.user = access.user.id;
      requireRole(access, needs);
      return answer(access, args);
    });
}

/** The same for what pages and people ask for by its own address: a refusal is an answer in plain words. */
export function answerInProject<Args extends Asked, Result>(
  needs: Role,
  answer: Answer<Args, Result>,
): (args: Args) => Promise<Result> {
  const answerAsPage = inProject(needs, answer);
  return async (args) => {
    try {
      return await answerAsPage(args);
    } catch (thrown) {
      if (isAnswer(thrown)) throw new Response(String(thrown.data), { status: thrown.init?.status });
      // Whoever follows a link to it is led to the sign-in page and back.
      const isVisited = args.request.headers.get('Accept')?.includes('text/html') ?? false;
      if (thrown instanceof Response && thrown.status === 302 && !isVisited)
        throw new Response('You are no longer signed in. Sign in again in another tab, then go on here.', {
          status: 401,
        });
      throw thrown;
    }
  };
}

/** A loader or action of a page for everybody who is signed in; like `inProject` otherwise. */
export function forSignedIn<Args extends Pick<Asked, 'request'>, Result>(
  answer: (signed: Signed, args: Args) => Promise<Result>,
): (args: Args) => Promise<Result> {
  return (args) =>
    inWords(args.request, async (place) => {
      const signed = await signedIn(args.request);
      place.user = signed.user.id;
      return answer(signed, args);
    });
}

/** A loader or action of a page for everybody, signed in or not; like `forSignedIn` otherwise. */
export function forEverybody<Args extends Pick<Asked, 'request'>, Result>(
  answer: (db: Database, args: Args) => Promise<Result>,
): (args: Args) => Promise<Result> {
  return (args) => inWords(args.request, () => answer(database(), args));
}

/** @throws 403 for too low a role, and for changes in an archived project */
export function requireRole({ role, project }: ProjectAccess, needs: Role): void {
  if (RANK[role] < RANK[needs])
    throw data(`This needs the role ${needs}; you are ${role} here. Ask an owner of ${project.name}.`, {
      status: 403,
    });
  if (project.isArchived && needs === 'editor') throw data(archivedInWords(project.name), { status: 403 });
}

/** Why nothing changes in an archived project. */
export function archivedInWords(name: string): string {
  return `${name} is archived, and nothing in it changes. An owner can take it out of the archive, on the page Project.`;
}

/** Whose request it was, as far as that is known by now. */
interface Place {
  project?: string;
  user?: string;
}

/** Answers; errors that say nothing to people become answers that do. */
async function inWords<Result>(request: Request, answer: (place: Place) => Promise<Result>): Promise<Result> {
  const place: Place = {};
  try {
    return await answer(place);
  } catch (error) {
    if (error instanceof Response || isAnswer(error) || request.signal.aborted) throw error;
    if (isAway(error)) throw data(AWAY_WORDS, { status: 503 });
    const refusal = refusalOf(error);
    if (refusal !== undefined) throw data(refusal, { status: 409 });
    const address = `${request.method} ${new URL(request.url).pathname}`;
    throw data(defectInWords(error, { request: address, ...place }), { status: 500 });
  }
}

/** Whether something thrown is `data(...)` of somebody who knows what it says. */
function isAnswer(thrown: unknown): thrown is ReturnType<typeof data<unknown>> {
  return (thrown as { type?: string } | null)?.type === 'DataWithResponseInit';
}

/** @throws a redirect to the sign-in page, or 403 for a form sent from another site */
async function signedIn(request: Request): Promise<Signed> {
  refuseForeignForm(request);
  const db = database();
  const user = await userOf(db, request);
  const session = await sessionHash(request);
  if (user && session !== undefined) {
    sayWho({ user: user.id });
    return { db, user, session };
  }
  const { pathname, search } = new URL(request.url);
  throw redirect(`/sign-in?next=${encodeURIComponent(pathname.replace(/\.data$/, '') + search)}`);
}

async function accessTo(
  { db, user, session }: Signed,
  projectId: string | undefined,
): Promise<ProjectAccess> {
  const isId = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(projectId ?? '');
  const row = isId
    ? await db('projects')
        .join('members', 'members.project_id', 'projects.id')
        .where({ 'projects.id': projectId, user_id: user.id, deleted: null })
        .first('projects.*', 'members.role')
    : undefined;
  if (!row) throw data('There is no such project, or you are not a member of it.', { status: 404 });
  sayWho({ project: row.id });
  return {
    db,
    user,
    session,
    role: row.role as Role,
    project: {
      id: row.id,
      name: row.name,
      description: row.description,
      revision: Number(row.revision),
      searchFolders: row.search_folders,
      isArchived: row.archived !== null,
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
  if (!URL.canParse(origin) || new URL(origin).host !== host)
    throw data('This form was sent from another site.', { status: 403 });
}
