import { brokenLinks } from '#core/jobs/repair/plan';
import { type Ranking, rankSteps } from '#core/jobs/repair/rank';
import type { LastTarget } from '#core/jobs/repair/together/sum-of-evidence';
import { bodyCount } from '#core/project/scan/content';
import type { Project, ProjectLink } from '#core/project/scan/project';
import type { Database } from '#server/db/connection';
import { inTurns } from '#server/in-turns';
import type { ShapeState } from '#server/jobs/shapes';
import { scanKey, scansOf } from '#server/projects/scan/project-scan';

/** All broken links of a project are ranked together, once a state of it and of the shapes that are known. */
const known = new WeakMap<Project, { shapes: number; ranking: Promise<Ranking> }>();

/** Candidates of all broken links, with all that the database knows: what links last led to, and the size of every body's box. */
export async function rankingFor(
  db: Database,
  projectId: string,
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
): Promise<Ranking> {
  let ranked = known.get(project);
  if (ranked?.shapes !== shapes.size) {
    ranked = { shapes: shapes.size, ranking: rank(db, projectId, project, shapes) };
    known.set(project, ranked);
    // Whoever asks next tries anew.
    ranked.ranking.catch(() => known.delete(project));
  }
  return ranked.ranking;
}

async function rank(
  db: Database,
  projectId: string,
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
): Promise<Ranking> {
  const boxes = new Map(
    [...shapes].flatMap(([hash, state]) => {
      const size = boxSize(state);
      return size ? [[hash, size] as const] : [];
    }),
  );
  const lastTargets = await lastTargetsOf(db, projectId, brokenLinks(project), boxes);
  return inTurns(rankSteps(project, { boxes, lastTargets }));
}

async function lastTargetsOf(
  db: Database,
  projectId: string,
  links: readonly ProjectLink[],
  boxes: ReadonlyMap<string, readonly [number, number, number]>,
): Promise<Map<ProjectLink, LastTarget>> {
  const name = ({ holder, kind, written }: Pick<ProjectLink, 'holder' | 'kind' | 'written'>) =>
    [kind, holder, written].join('\0');
  const rows: { holder: string; kind: ProjectLink['kind']; written: string; sha256: string; path: string }[] =
    await db('last_targets')
      .where('project_id', projectId)
      .whereRaw('holder = any(?)', [[...new Set(links.map(({ holder }) => holder))]])
      .select('holder', 'kind', 'written', 'sha256', 'path');
  const byName = new Map(rows.map((row) => [name(row), row]));
  const found = links.flatMap((link) => {
    const row = byName.get(name(link));
    return row ? [{ link, row }] : [];
  });
  const scans = await scansOf(
    db,
    found.map(({ row }) => row),
  );
  return new Map(
    found.map(({ link, row: { sha256, path } }) => {
      const scan = scans.get(scanKey(sha256, path))!;
      return [link, { sha256, bodies: bodyCount(scan), unit: scan.unit, box: boxes.get(sha256) }];
    }),
  );
}

function boxSize({ bodies }: ShapeState): [number, number, number] | undefined {
  const boxes = (bodies ?? []).flatMap(({ facts }) => (facts ? [facts.box] : []));
  if (boxes.length === 0) return undefined;
  const span = (n: number) =>
    Math.max(...boxes.map((box) => box[n + 3]!)) - Math.min(...boxes.map((box) => box[n]!));
  return [span(0), span(1), span(2)];
}
