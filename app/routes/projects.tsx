import { data, redirect } from 'react-router';
import { z } from 'zod';
import { stateCounts } from '#core/files/links/resolve';
import { rootsOf } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { forSignedIn } from '#server/auth/guard';
import type { Database } from '#server/db/connection';
import { arePortraitsNew, portraitRoots, portraitsOf } from '#server/jobs/portraits';
import { shapeStatesOf } from '#server/jobs/shapes';
import { defectInWords } from '#server/log';
import { bringBack, deletedProjects } from '#server/projects/life/life';
import { answerInvitation, invitationsFor } from '#server/projects/people/invitations';
import { createProject, listProjects } from '#server/projects/projects';
import { healthOf } from '#server/projects/scan/health';
import { loadProject } from '#server/projects/scan/project-scan';
import { sentFields } from '#server/sent';
import { ProjectsScreen } from '../screens/projects/ProjectsScreen';
import { addressIn } from '../ui/address/addresses';
import type { Route } from './+types/projects';

export const meta = () => [{ title: 'Projects · Stone Tray' }];

type Card = Awaited<ReturnType<typeof listProjects>>[number];

/** What a project's card shows of its files. */
async function factsOf(db: Database, card: Card) {
  const project = await loadProject(db, card.id);
  const roots = portraitRoots(project);
  const there = await portraitsOf(db, card.id);
  return {
    portraits: roots.flatMap((path) => {
      const drawn = there.get(path);
      return drawn?.isSeen ? { path, shows: drawn.shows } : [];
    }),
    arePortraitsNew: arePortraitsNew(project, roots, await shapeStatesOf(db, project), there),
    files: project.files.size,
    links: stateCounts(project.links),
    roots: rootsOf(project).length,
  };
}

export const loader = forSignedIn(async ({ db, user }) => {
  const cards = await listProjects(db, user.id);
  const read = await Promise.all(
    cards.map(async (card) => {
      try {
        return { ...card, facts: await factsOf(db, card), trouble: null };
      } catch (error) {
        // One project that cannot be read keeps nobody from the others.
        return { ...card, facts: null, trouble: defectInWords(error, { project: card.id }) };
      }
    }),
  );
  // Kept as each is read.
  const health = await healthOf(
    db,
    cards.map(({ id }) => id),
  );
  const projects = read.map(({ facts, ...card }) => ({
    ...card,
    facts: facts && { ...facts, health: health.get(card.id) ?? [] },
  }));
  return {
    user,
    projects,
    invitations: await invitationsFor(db, user),
    deleted: await deletedProjects(db, user.id),
  };
});

const Form = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('create'),
    name: z
      .string()
      .trim()
      .min(1, 'Give the project a name.')
      .max(120, 'The name is longer than 120 characters.'),
  }),
  z.object({ do: z.enum(['join', 'decline']), id: z.uuid() }),
  z.object({ do: z.literal('bring-back'), id: z.uuid() }),
]);

export const action = forSignedIn(async ({ db, user }, { request }: Route.ActionArgs) => {
  const form = Form.safeParse(await sentFields(request));
  if (!form.success) return data({ error: form.error.issues[0]!.message }, { status: 400 });
  const asked = form.data;
  try {
    switch (asked.do) {
      case 'create':
        return redirect(addressIn(await createProject(db, user.id, asked.name), 'files'));
      case 'join':
        return redirect(addressIn(await answerInvitation(db, user, asked.id, true), 'structure'));
      case 'decline':
        await answerInvitation(db, user, asked.id, false);
        return { error: null };
      case 'bring-back':
        await bringBack(db, asked.id, user.id);
        return { error: null };
    }
  } catch (error) {
    if (error instanceof Refusal) return data({ error: error.message }, { status: 409 });
    throw error;
  }
});

export default function Projects({ loaderData, actionData }: Route.ComponentProps) {
  return <ProjectsScreen {...loaderData} error={actionData?.error ?? undefined} />;
}
