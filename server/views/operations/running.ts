import { choicesInWords } from '#core/choices-in-words';
import { operationNamed, reportNamed } from '#core/operations';
import type { ProjectAccess } from '#server/auth/guard';
import { workersAlive } from '#server/db/workers';
import { LOOKING, OPEN, type TaskName } from '#server/jobs/tasks';

/** Work that waits or is being done. */
export interface RunningTask {
  id: string;
  /** What it is, as its page calls it. */
  title: string;
  /** What was chosen for it, in short. */
  choices: string;
  /** It only looks, and changes nothing. */
  isLooking: boolean;
  /** Who asked for it; null for whoever looks. */
  who: string | null;
  state: 'waiting' | 'running';
  doing: string;
  done: number;
  total: number;
  /** Seconds since it was asked for. */
  seconds: number;
}

export interface RunningView {
  tasks: RunningTask[];
  /** Whether there is a job worker that answers. */
  isServed: boolean;
}

/** So many are listed. */
const MOST = 50;
/** So many characters of what was chosen are shown. */
const LONGEST = 90;

/** What a person has under way in a project; for an owner, what everybody has. The oldest first. */
export async function runningIn({ db, project, user, role }: ProjectAccess): Promise<RunningView> {
  const rows: RunningRow[] = await db('tasks')
    .join('users', 'users.id', 'tasks.user_id')
    .where('project_id', project.id)
    .whereIn('tasks.state', OPEN)
    .modify((query) => role !== 'owner' && query.where('user_id', user.id))
    .orderBy('tasks.time')
    .limit(MOST)
    .select(
      'tasks.id',
      'kind',
      'tasks.state',
      'doing',
      'done',
      'total',
      'request',
      'user_id',
      'users.name as who',
      db.raw('extract(epoch from now() - tasks.time)::int as seconds'),
    );
  return {
    tasks: rows.map(({ user_id: asker, who, request, kind, ...row }) => ({
      ...row,
      ...inWords(request),
      isLooking: LOOKING.includes(kind),
      who: asker === user.id ? null : who,
    })),
    isServed: rows.length === 0 || (await workersAlive(db)) > 0,
  };
}

interface RunningRow extends Pick<RunningTask, 'id' | 'state' | 'doing' | 'done' | 'total' | 'seconds'> {
  kind: TaskName;
  request: { operation?: string; report?: string; choices?: unknown };
  user_id: string;
  who: string;
}

function inWords({
  operation,
  report,
  choices,
}: RunningRow['request']): Pick<RunningTask, 'title' | 'choices'> {
  const entry = operationNamed(operation ?? '') ?? reportNamed(report ?? '');
  if (!entry) return { title: operation ?? report ?? '', choices: '' };
  const chosen = entry.choices.safeParse(choices);
  const words = chosen.success
    ? choicesInWords(entry.choices, chosen.data as object).flatMap(
        ({ value, meaning }) => value || meaning || [],
      )
    : [];
  const all = words.join('; ');
  return { title: entry.title, choices: all.length > LONGEST ? `${all.slice(0, LONGEST)}…` : all };
}
