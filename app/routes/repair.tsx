import { data } from 'react-router';
import { z } from 'zod';
import type { ChangeSet } from '#core/change/change-set';
import { planningOn } from '#core/operation';
import { Refusal } from '#core/refusal';
import { linksWrittenAlike, planRepair, type RepairChoice } from '#core/repair/plan';
import { filesToRenew } from '#core/repair/renew';
import type { Project } from '#core/scan/project';
import { requireProject } from '#server/auth/guard';
import { shapesOf } from '#server/jobs/shapes';
import { ProjectFileSet } from '#server/projects/project-files';
import { loadProject } from '#server/projects/project-scan';
import { candidatesFor, findBroken, keyOfLink, previewScene, repairQueue } from '#server/views/repair-view';
import { RepairScreen } from '../screens/repair/RepairScreen';
import type { Route } from './+types/repair';

export const meta = () => [{ title: 'Repair desk · Stone Tray' }];

export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const queue = repairQueue(scanned);
  const link = findBroken(scanned, search.get('link'));
  const toRenew = filesToRenew(scanned).length;
  if (!link) return { queue, current: null, toRenew };
  const shapes = await shapesOf(db, scanned);
  const candidates = await candidatesFor(db, project.id, scanned, shapes, link);
  const chosen =
    candidates.find(({ path }) => path === search.get('candidate')) ??
    candidates.find(({ unusable }) => unusable === null);
  const all = search.get('only') === null;
  const { plan, trouble } =
    chosen && chosen.unusable === null
      ? await planned(
          planRepair(
            planningOn(scanned, new ProjectFileSet(db, project.id)),
            choicesFor(scanned, keyOfLink(link), chosen.path, all),
          ),
        )
      : { plan: null, trouble: null };
  return {
    queue,
    toRenew,
    current: {
      key: keyOfLink(link),
      candidates,
      chosen: chosen?.path ?? null,
      all,
      trouble,
      plan: plan && {
        rewires: plan.rewires,
        warnings: plan.warnings,
        base: plan.changes.map(({ path, base }) => ({ path, base: base ?? '' })),
      },
      scene: previewScene(scanned, shapes, project.id, link, chosen?.path ?? null),
    },
  };
}

/** A choice that cannot be carried out is shown with its reason, beside the choices that can. */
async function planned(
  plan: Promise<ChangeSet>,
): Promise<{ plan: ChangeSet | null; trouble: string | null }> {
  try {
    return { plan: await plan, trouble: null };
  } catch (error) {
    if (error instanceof Refusal) return { plan: null, trouble: error.message };
    throw error;
  }
}

const RepairForm = z.object({
  link: z.string(),
  candidate: z.string(),
  all: z.enum(['0', '1']),
  base: z.string(),
});
const Base = z.array(z.object({ path: z.string(), base: z.string() }));

export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const form = RepairForm.safeParse(Object.fromEntries(await request.formData()));
  if (!form.success)
    return data({ error: 'The form was not complete. Reload the page and choose again.' }, { status: 400 });
  const { link, candidate, all, base } = form.data;
  try {
    const scanned = await loadProject(db, project.id);
    const files = new ProjectFileSet(db, project.id, user.id);
    const plan = await planRepair(
      planningOn(scanned, files),
      choicesFor(scanned, link, candidate, all === '1'),
    );
    // What the person saw is what is applied: the plan is held to the versions that the page showed.
    const seen = new Map(Base.parse(JSON.parse(base)).map(({ path, base: hash }) => [path, hash]));
    for (const change of plan.changes)
      if (change.action === 'write') change.base = seen.get(change.path) ?? change.base;
    return { applied: await files.applyAs(plan), summary: plan.summary };
  } catch (error) {
    if (error instanceof Refusal) return data({ error: error.message }, { status: 409 });
    throw error;
  }
}

function choicesFor(project: Project, key: string, target: string, all: boolean): RepairChoice[] {
  const link = project.links.find((candidate) => keyOfLink(candidate) === key);
  if (!link) throw new Refusal('This link is no longer there. Somebody else may have repaired it.');
  const links = all ? linksWrittenAlike(project, link) : [link];
  return links
    .filter(({ from }) => from !== target)
    .map(({ from, kind, written }) => ({ holder: from, kind, written, target }));
}

export default function Repair({ loaderData }: Route.ComponentProps) {
  return <RepairScreen {...loaderData} />;
}
