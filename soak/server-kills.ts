import { randomUUID } from 'node:crypto';
import { gearUnit } from '#core/testing/projects';
import { putUser } from '#server/auth/sessions';
import { closeDatabase, database } from '#server/db/connection';
import { verifyStore } from '#server/db/verify-store';
import { stopJobs } from '#server/jobs/queue';
import { putMember } from '#server/projects/projects';
import { testProject } from '#server/testing';
import type { PlannedView } from '#server/views/operations/planned-view';
import { startProcesses } from '../scripts/processes';
import { signIn } from './sign-in';

/** What came of changes that were asked for while servers were killed. */
export interface ServersKilled {
  /** Web processes and job workers. */
  kills: number;
  changes: number;
  done: number;
  /** Ended in words for the person, with nothing changed. */
  refused: number;
  /** Projects in neither the old state nor the new, or in another one than was said; contents that are damaged: there may be none. */
  broken: number;
  /** Changes that did not end: there may be none. */
  hung: number;
  /** Longest time for one, kills and all, seconds. */
  longest: number;
}

/** Projects that are changed at the same time; milliseconds within which the kills come; how long a change may take in all. */
const [PROJECTS, WINDOW, PATIENCE] = [8, 4000, 120_000];

/** Kills both servers again and again while changes are asked for, and looks at what became of every one. */
export async function killServers(rounds: number): Promise<ServersKilled> {
  const db = database();
  const projects: string[] = [];
  for (let n = 0; n < PROJECTS; n++) projects.push((await testProject(gearUnit())).project);
  const password = randomUUID();
  const user = await putUser(db, { email: 'soak@demo.invalid', name: 'Soak', password });
  for (const project of projects) await putMember(db, project, user.id, 'editor');
  await stopJobs();
  const result: ServersKilled = { kills: 0, changes: 0, done: 0, refused: 0, broken: 0, hung: 0, longest: 0 };
  let running = startProcesses(0);
  const address = `http://localhost:${await running.port}`;
  const cookie = await signIn(address, { email: user.email, password });
  for (let round = 0; round < rounds; round++) {
    const changing = Promise.all(
      projects.map((project) => changeOne(`${address}/projects/${project}`, cookie, project, round, result)),
    );
    await Promise.all(running.processes.map((child) => killAfter(child, WINDOW * Math.random())));
    result.kills += running.processes.length;
    running = startProcesses(Number(new URL(address).port));
    await changing;
  }
  await Promise.all(running.processes.map((child) => killAfter(child, 0)));
  result.broken += (await verifyStore(db)).damaged.length;
  await closeDatabase();
  return result;
}

/** Moves a folder to and fro, asking again for whatever was not answered, as a page does. */
async function changeOne(
  address: string,
  cookie: string,
  project: string,
  round: number,
  result: ServersKilled,
): Promise<void> {
  const began = performance.now();
  const isLate = () => performance.now() - began > PATIENCE;
  const [from, to] = round % 2 === 0 ? ['std', 'norm-parts'] : ['norm-parts', 'std'];
  const ask = async <Answer>(path: string, body?: object): Promise<Answer | undefined> => {
    while (!isLate()) {
      try {
        const answer = await fetch(`${address}/${path}`, {
          method: body ? 'POST' : 'GET',
          headers: { Cookie: cookie, 'Content-Type': 'application/json' },
          body: body && JSON.stringify(body),
          signal: AbortSignal.timeout(20_000),
        });
        if (answer.status < 500) return (await answer.json()) as Answer;
      } catch {
        // The web process is gone just now.
      }
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
    return undefined;
  };
  const before = await pathsOf(project);
  // A change that was refused leaves the folder where it was.
  const moves = [before.some((path) => path.startsWith(`${from}/`)) ? { from, to } : { from: to, to: from }];
  const choices = { moves };
  const after = before.map((path) => path.replace(`${moves[0]!.from}/`, `${moves[0]!.to}/`)).sort();
  const ended = async <Result>(task: string) => {
    while (!isLate()) {
      const told = await ask<{ state: string; result: Result }>(`tasks?task=${task}`);
      if (told?.state === 'done' || told?.state === 'failed') return told;
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
    return undefined;
  };
  const answered = await ask<{ planned?: PlannedView; task?: string }>('operations?for=move', {
    intent: 'plan',
    operation: 'move',
    choices,
  });
  // A plan that is not there at once is made by the job worker.
  const planned = answered?.task ? (await ended<PlannedView>(answered.task))?.result : answered?.planned;
  const task = randomUUID();
  const asked =
    planned &&
    (await ask<{ task: string }>('operations?for=move', {
      intent: 'apply',
      operation: 'move',
      choices,
      task,
      seen: planned.seen,
    }));
  result.changes++;
  const state = asked && (await ended(task))?.state;
  result.longest = Math.max(result.longest, Math.round((performance.now() - began) / 1000));
  const found = (await pathsOf(project)).join('\n');
  const [isOld, isNew] = [found === before.join('\n'), found === after.join('\n')];
  if (state === 'done') result.done++;
  else if (state === 'failed') result.refused++;
  else {
    result.hung++;
    console.log(`${project}, round ${round}: ${JSON.stringify(answered ?? null).slice(0, 500)}, ${state}`);
  }
  if (state === 'done' ? !isNew : state === 'failed' ? !isOld : !isOld && !isNew) {
    result.broken++;
    console.log(`${project}: the change was ${state}, and there is\n${found}`);
  }
}

async function pathsOf(project: string): Promise<string[]> {
  return (await database()('files').where('project_id', project).pluck('path')).sort();
}

function killAfter(
  child: ReturnType<typeof startProcesses>['processes'][number],
  after: number,
): Promise<void> {
  return new Promise((resolve) => {
    child.once('exit', () => resolve());
    setTimeout(() => child.kill('SIGKILL'), after);
  });
}
