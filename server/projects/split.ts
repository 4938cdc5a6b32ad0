import { z } from 'zod';
import { planningOn } from '#core/operation';
import { Refusal } from '#core/refusal';
import type { Project } from '#core/scan/project';
import { SplitChoices } from '#core/split/choices';
import { bodiesIn, groupBodies, type SplitGroup } from '#core/split/groups';
import type { MeasuredBody } from '#core/split/placed-shape';
import { openSource, outlineSplit, planSplit, type SplitOutline } from '#core/split/plan';
import type { SourcePart } from '#core/split/source-part';
import type { Database } from '#server/db/connection';
import { measuredBodies } from '#server/jobs/shapes';
import { taskKind } from '#server/jobs/tasks';
import type { AppliedChange } from '#server/views/planned-view';
import { applyInTask, basedOn } from './apply-in-task';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';
import type { SplitCheckRequest } from './split-check';

/** What the split page sends, to see a plan or to have it carried out. */
export const SplitRequest = z.object({
  file: z.string(),
  /** The version of the source that the page shows. */
  sha256: z.string(),
  choices: SplitChoices,
  /** Files that will be written over, with the versions that the page showed. */
  base: z.array(z.object({ path: z.string(), base: z.string() })).default([]),
});

export const UNREADABLE_CHOICES = 'The choices cannot be read. Reload the page and choose again.';

/**
 * The outline of a split in a project.
 * @throws Refusal when the source has changed since the page was loaded, or is not measured yet
 */
export async function makeOutline(
  db: Database,
  projectId: string,
  userId: string,
  { file, sha256, choices }: z.infer<typeof SplitRequest>,
): Promise<{ scanned: Project; files: ProjectFileSet; outline: SplitOutline }> {
  const scanned = await loadProject(db, projectId);
  if (scanned.files.get(file)?.sha256 !== sha256)
    throw new Refusal(`${file} has changed since this page was loaded. Reload it to split the new version.`);
  const files = new ProjectFileSet(db, projectId, userId);
  const opened = await openPart(db, files, file, sha256, choices.product);
  const groups = opened.groupsFor(choices);
  return { scanned, files, outline: outlineSplit(scanned, opened.source, choices, opened.measured, groups) };
}

/** A split that was carried out. */
export interface AppliedSplit extends AppliedChange {
  assembly: string;
  /** What the kernel shall hold against each other. */
  check: z.infer<typeof SplitCheckRequest>;
}

/** Splits a part, as the page showed it. */
export const SPLIT = taskKind<z.infer<typeof SplitRequest>, AppliedSplit>({
  role: 'editor',
  request: SplitRequest,
  async run(context, request) {
    const { db, project, user, report } = context;
    const { scanned, files, outline } = await makeOutline(db, project, user, request);
    const { assembly, components } = outline;
    const { choices } = request;
    const plan = await planSplit(planningOn(scanned, files, { progress: report }), { outline, choices });
    await applyInTask(context, files, basedOn(plan, request.base), {
      assembly,
      check: {
        sha256: request.sha256,
        assembly,
        product: request.choices.product,
        bodies: components.flatMap(({ group }) => bodiesIn(group).map(({ id }) => id)),
      },
    });
  },
});

/** A part that somebody is looking at on the split page. */
interface OpenPart {
  source: SourcePart;
  measured: ReadonlyMap<number, MeasuredBody>;
  groupsFor(choices: SplitChoices): SplitGroup[];
}

/** The parts looked at last, by path and content: typing a name neither reads nor searches anything again. */
const openParts = new Map<string, OpenPart>();
const MOST_OPEN = 4;

async function openPart(
  db: Database,
  files: ProjectFileSet,
  path: string,
  sha256: string,
  product: string | null,
): Promise<OpenPart> {
  const key = `${sha256} ${path} ${product}`;
  let part = openParts.get(key);
  if (!part) {
    const source = await openSource(files, path, product);
    const measured = await measuredBodies(db, sha256);
    if (!measured)
      throw new Refusal('The shapes of this part are still being prepared. Wait until they are there.');
    part = { source, measured, groupsFor: rememberGroups(source, measured) };
  }
  openParts.delete(key);
  openParts.set(key, part);
  if (openParts.size > MOST_OPEN) openParts.delete(openParts.keys().next().value!);
  return part;
}

/** Groups by the choices that they depend on; the newest few are kept. */
function rememberGroups(
  source: SourcePart,
  measured: ReadonlyMap<number, MeasuredBody>,
): OpenPart['groupsFor'] {
  const known = new Map<string, SplitGroup[]>();
  return (choices) => {
    const { bodies, surfaces, merge, tolerance, coloursApart, namesApart, together, materials } = choices;
    const colours = coloursApart ? choices.colours : null;
    const names = namesApart ? choices.bodyNames : null;
    const key = JSON.stringify([bodies, surfaces, merge, tolerance, together, materials, colours, names]);
    let groups = known.get(key);
    if (!groups) {
      groups = groupBodies(source, choices, measured);
      known.set(key, groups);
      if (known.size > 8) known.delete(known.keys().next().value!);
    }
    return groups;
  };
}
