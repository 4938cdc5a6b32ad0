import type { SceneData } from '#core/geometry/scene';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { catchingPoints } from '#core/jobs/cut/snaps';
import { onceFor } from '#core/once';
import { IDENTITY, invertRigid, multiply } from '#core/product/matrix';
import { ownProducts } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import type { ShapeState } from '#server/jobs/shapes';
import { type SplitBody, splitView } from './split-view';

export interface CutView {
  path: string;
  /** Parts to choose from. */
  parts: string[];
  sha256: string;
  bodies: SplitBody[];
  /** Position of the body to be cut; null when there is no such body. */
  target: number | null;
  /** Corners and middles of edges of the body, mm, in its own coordinates. */
  snaps: [number, number, number][];
  /** Box of the body in its own coordinates, mm. */
  box: readonly number[] | null;
  /** How many assemblies use the part. */
  users: number;
  /** The whole part in the coordinates of the body that is cut. */
  scene: SceneData;
}

/** The part with one of its bodies to be cut; null where there is none. */
export function cutView(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  measured: ReadonlyMap<number, MeasuredBody> | undefined,
  projectId: string,
  file: string | null,
  wanted: number | null,
): CutView | null {
  if (file === null) return null;
  const { path, sha256, bodies, scene } = splitView(project, shapes, projectId, file);
  if (path === null || bodies.length === 0) return null;
  const asked = bodies.findIndex(({ id }) => id === wanted);
  const target = asked >= 0 ? asked : bodies.findIndex(({ kind }) => kind === 'solid');
  const body = bodies[target];
  const own = body && measured?.get(body.id);
  const back = invertRigid(scene.instances[target]?.placement ?? IDENTITY);
  return {
    path,
    parts: partsToCut(project),
    sha256,
    bodies,
    target: target < 0 ? null : target,
    snaps: catchingPoints(own?.features ?? []),
    box: own?.facts?.box ?? null,
    users: new Set(
      (project.usedBy.get(path) ?? []).flatMap(({ holder, kind }) => (kind === 'component' ? [holder] : [])),
    ).size,
    scene: {
      bodies: scene.bodies,
      instances: scene.instances.map((instance) => ({
        ...instance,
        placement: multiply(back, instance.placement),
        tone: instance.row === target ? undefined : 'faint',
      })),
    },
  };
}

/** The part that is asked for, else the one with most bodies; null where none has a solid. */
export function partToCut(project: Project, wanted: string | null): string | null {
  return wanted !== null && project.files.has(wanted) ? wanted : (partsToCut(project)[0] ?? null);
}

/** Parts with a solid of their own, those with most bodies first. */
const partsToCut = onceFor((project: Project): string[] =>
  [...project.files.values()]
    .filter(({ scan }) => scan.role === 'part' && !scan.error)
    .map(({ path, scan }) => ({ path, bodies: ownProducts(scan).flatMap((product) => product.bodies) }))
    .filter(({ bodies }) => bodies.some(({ kind }) => kind === 'solid'))
    .sort((a, b) => b.bodies.length - a.bodies.length || (a.path < b.path ? -1 : 1))
    .map(({ path }) => path),
);
