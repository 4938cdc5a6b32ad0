import { useMemo } from 'react';
import type { MovedFolder } from '#core/jobs/repair/moved-folder';
import { brokenLinks } from '#core/jobs/repair/plan';
import { filesToRenew } from '#core/jobs/repair/renew';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { rankingFor } from '#server/views/operations/repair-ranking';
import { type RepairTable, repairTableSteps } from '#server/views/operations/repair-table';
import {
  type BrokenLink,
  findBroken,
  keyOfLink,
  previewSteps,
  queueSteps,
} from '#server/views/operations/repair-view';
import { sceneTextSteps } from '#server/views/packed/packed-scene';
import { RepairScreen } from '../screens/repair/RepairScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/repair';

export const meta = titled('Repair desk');

export const shouldRevalidate = revalidateOnNewData;

/** More than these are looked at all together, unless somebody wants otherwise. */
const FEW = 8;

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const link = findBroken(scanned, search.get('link'));
  const toRenew = filesToRenew(scanned).length;
  const files = scanned.files.size;
  if (!link) return { queueText: '[]', tableText: null, current: null, toRenew, files };
  const shapes = await shapesOf(db, scanned, project.id);
  const ranking = await rankingFor(db, project.id, scanned, shapes);
  const candidates = ranking.get(link) ?? [];
  const isTogether =
    (search.get('as') ?? (brokenLinks(scanned).length > FEW ? 'together' : 'each')) === 'together';
  const table = isTogether ? await inTurns(repairTableSteps(scanned, ranking, movedIn(search))) : null;
  const proposed = table?.rows.find(({ key }) => key === keyOfLink(link))?.target;
  const wanted = search.get('candidate') ?? proposed;
  const chosen =
    candidates.find(({ path }) => path === wanted)?.path ??
    proposed ??
    candidates.find(({ unusable }) => unusable === null)?.path ??
    null;
  const all = search.get('only') === null;
  return {
    // The rows of the table are the queue.
    queueText: table ? null : JSON.stringify(await inTurns(queueSteps(scanned))),
    tableText: table && JSON.stringify(table),
    toRenew,
    files,
    current: {
      key: keyOfLink(link),
      candidates,
      chosen,
      all,
      sceneText: await inTurns(
        sceneTextSteps(await inTurns(previewSteps(scanned, shapes, project.id, link, chosen))),
      ),
    },
  };
});

/** A folder that somebody says has moved; `/` is the top folder. */
function movedIn(search: URLSearchParams): MovedFolder | null {
  const [from, to] = [search.get('from'), search.get('to')];
  return from === null || to === null ? null : { from, to };
}

export default function Repair({
  loaderData: { queueText, tableText, current, ...counts },
}: Route.ComponentProps) {
  const scene = useSentScene(current?.sceneText ?? null);
  const table = useMemo(
    () => (tableText === null ? null : (JSON.parse(tableText) as RepairTable)),
    [tableText],
  );
  const queue = useMemo(
    () => (queueText === null ? null : (JSON.parse(queueText) as BrokenLink[])),
    [queueText],
  );
  return (
    <RepairScreen
      {...counts}
      queue={queue ?? table?.rows ?? []}
      table={table}
      current={current && scene && { ...current, scene }}
    />
  );
}
