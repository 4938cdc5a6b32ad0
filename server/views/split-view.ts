import { appearanceOf } from '#core/product/appearance';
import { IDENTITY } from '#core/product/matrix';
import { ownProducts } from '#core/scan/content';
import type { Project } from '#core/scan/project';
import type { SplitChoices } from '#core/split/choices';
import { bodiesIn } from '#core/split/groups';
import type { SplitOutline } from '#core/split/plan';
import type { ShapeState } from '#server/jobs/shapes';
import type { SceneData } from './structure-view';

/** A body of the part that is to be split. */
export interface SplitBody {
  id: number;
  name: string;
  kind: 'solid' | 'surface';
  colour: string | null;
  /** mm³; null while the kernel has not measured it. */
  volume: number | null;
  /** Sides of the box, mm, the longest first. */
  size: [number, number, number] | null;
  faces: number | null;
  error: string | null;
  /** Why its figures are not to be trusted. */
  doubt: string | null;
}

export interface SplitView {
  path: string | null;
  sha256: string;
  /** Part files with more than one body. */
  parts: { path: string; bodies: number }[];
  bodies: SplitBody[];
  /** Whether the kernel is through with the part. */
  ready: 'ready' | 'preparing' | 'failed';
  scene: SceneData;
}

/** A component of the planned split, as the page shows it. */
export interface SplitComponentView {
  name: string;
  file: string;
  problem: string | null;
  proposal: string | null;
  /** Positions in `bodies`. */
  bodies: number[];
  mirrorOf: number | null;
  /** The bodies are one component together, not places of the same shape. */
  isJoined: boolean;
}

export interface SplitOutlineView {
  components: SplitComponentView[];
  folder: string;
  assembly: string;
  warnings: string[];
  /** Files that will be written over, with the versions seen. */
  base: { path: string; base: string }[];
  /** Assemblies whose links will point at the new assembly. */
  users: string[];
}

export function splitView(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): SplitView {
  const parts = [...project.files.values()]
    .filter(({ scan }) => scan.format === 'step' && scan.role !== 'assembly')
    .map(({ path, scan }) => ({
      path,
      bodies: ownProducts(scan).reduce((sum, { bodies }) => sum + bodies.length, 0),
    }))
    .filter(({ bodies }) => bodies > 1)
    .sort((a, b) => b.bodies - a.bodies);
  const path = wanted !== null && project.files.has(wanted) ? wanted : (parts[0]?.path ?? null);
  const file = path === null ? undefined : project.files.get(path);
  if (path === null || !file)
    return { path, sha256: '', parts, bodies: [], ready: 'ready', scene: { bodies: [], instances: [] } };
  const state = shapes.get(file.sha256);
  const facts = new Map(state?.bodies?.map((body) => [body.body, body]));
  const own = ownProducts(file.scan)
    .flatMap(({ bodies }) => bodies)
    .sort((a, b) => Number(a.kind === 'surface') - Number(b.kind === 'surface'));
  const url = state?.gltf ? `/projects/${projectId}/shapes/${file.sha256}` : null;
  return {
    path,
    sha256: file.sha256,
    parts,
    bodies: own.map(({ id, name, kind, colour }) => {
      const known = facts.get(id);
      const box = known?.facts?.box;
      return {
        id,
        name,
        kind,
        colour,
        volume: known?.facts?.volume ?? null,
        size: box
          ? ([box[3] - box[0], box[4] - box[1], box[5] - box[2]].sort((a, b) => b - a) as [
              number,
              number,
              number,
            ])
          : null,
        faces: known?.facts?.faces ?? null,
        error: known?.error ?? null,
        doubt: known?.facts?.doubt ?? null,
      };
    }),
    ready:
      !state || state.state === 'waiting' || state.state === 'running'
        ? 'preparing'
        : state.state === 'done'
          ? 'ready'
          : 'failed',
    scene: {
      bodies: own.map((body) => ({ url, node: String(body.id), ...appearanceOf(body) })),
      instances: own.map(({ name, id, placement }, n) => ({
        row: n,
        body: n,
        placement: placement ?? IDENTITY,
        name: name || `Body #${id}`,
      })),
    },
  };
}

export function outlineView(
  project: Project,
  { source, components, folder, assembly, warnings }: SplitOutline,
  choices: SplitChoices,
): SplitOutlineView {
  const positions = new Map(source.bodies.map((body, n) => [body, n]));
  const { path } = source;
  const users =
    choices.rest === 'replace'
      ? [
          ...new Set(
            (project.usedBy.get(path) ?? [])
              .filter(({ kind }) => kind === 'component')
              .map(({ from }) => from),
          ),
        ]
      : [];
  const touched = [...users, path];
  return {
    components: components.map(({ name, file, problem, proposal, group }) => ({
      name,
      file,
      problem,
      proposal,
      bodies: bodiesIn(group).map((body) => positions.get(body)!),
      isJoined: group.joined.length > 0,
      mirrorOf: group.mirrorOf,
    })),
    folder,
    assembly,
    warnings,
    base: touched.map((file) => ({ path: file, base: project.files.get(file)!.sha256 })),
    users,
  };
}
