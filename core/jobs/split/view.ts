import { usersOf } from '#core/geometry/bodies/rewire-users';
import type { Project } from '#core/project/scan/project';
import type { SplitCheckRequest } from './check';
import { bodiesIn } from './groups';
import type { SplitOutline } from './plan';

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
  /** Assemblies that use the part now. */
  users: string[];
  /** The version of the source that is meant, and what the result is held against it with. */
  check: SplitCheckRequest;
}

export function outlineView(
  project: Project,
  { source, components, folder, assembly }: SplitOutline,
): SplitOutlineView {
  const positions = new Map(source.bodies.map((body, n) => [body, n]));
  const { path, scope } = source;
  const bodies = components.flatMap(({ group }) => bodiesIn(group));
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
    users: [...usersOf(project, path).keys()],
    check: {
      sha256: project.files.get(path)!.sha256,
      assembly,
      product: scope.wanted,
      bodies: bodies.map(({ id }) => id),
    },
  };
}
