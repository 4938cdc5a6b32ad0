import { useMemo } from 'react';
import { filesToRenew } from '#core/jobs/repair/renew';
import { inProject } from '#server/auth/guard';
import { inTurns } from '#server/in-turns';
import { shapesOf } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { candidatesFor } from '#server/views/operations/repair-ranking';
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
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/repair';

export const meta = titled('Repair desk');

export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const search = new URL(request.url).searchParams;
  const scanned = await loadProject(db, project.id);
  const queueText = JSON.stringify(await inTurns(queueSteps(scanned)));
  const link = findBroken(scanned, search.get('link'));
  const toRenew = filesToRenew(scanned).length;
  const files = scanned.files.size;
  if (!link) return { queueText, current: null, toRenew, files };
  const shapes = await shapesOf(db, scanned, project.id);
  const candidates = await candidatesFor(db, project.id, scanned, shapes, link);
  const chosen =
    candidates.find(({ path }) => path === search.get('candidate')) ??
    candidates.find(({ unusable }) => unusable === null);
  const all = search.get('only') === null;
  return {
    queueText,
    toRenew,
    files,
    current: {
      key: keyOfLink(link),
      candidates,
      chosen: chosen?.path ?? null,
      all,
      sceneText: await inTurns(
        sceneTextSteps(await inTurns(previewSteps(scanned, shapes, project.id, link, chosen?.path ?? null))),
      ),
    },
  };
});

export default function Repair({ loaderData: { queueText, current, ...counts } }: Route.ComponentProps) {
  const scene = useSentScene(current?.sceneText ?? null);
  const queue = useMemo(() => JSON.parse(queueText) as BrokenLink[], [queueText]);
  return <RepairScreen {...counts} queue={queue} current={current && scene && { ...current, scene }} />;
}
