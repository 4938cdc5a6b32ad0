import { foldPath, relativePath } from '#core/files/links/paths';
import type { Matrix4 } from '#core/product/matrix';
import type { Recipe } from '#core/product/source/memory';
import { addSourceLink } from '#core/product/source/tie';
import type { Body } from '#core/product/structure';
import type { AssemblyToWrite } from '#core/product/write-assembly';
import type { ComponentToWrite } from '#core/product/write-components';
import type { Project } from '#core/project/scan/project';
import { placingOf, type SplitGroup } from './groups';

/** One placing of a component, with the name of the body that it stands for. */
export function placing(
  body: { name: string },
  component: string,
  placement: Matrix4,
): ComponentToWrite['placings'][number] {
  return { name: body.name || component, placement };
}

/** Where the assembly puts the members of a group. @param nameOf the name of a body, as it was chosen */
export function placingsOfGroup(
  group: SplitGroup,
  component: string,
  origin: Matrix4,
  nameOf: (body: Body) => string = ({ name }) => name,
) {
  return group.members.map((member) =>
    placing(
      { name: group.joined.length > 0 ? '' : nameOf(member.body) },
      component,
      placingOf(member, origin),
    ),
  );
}

/** Makes an assembly remember the source that its components came out of. */
export function assemblySource(
  assembly: string,
  source: string,
  sha256: string,
  recipe: Recipe,
): AssemblyToWrite['also'] {
  return (builder, definition) => {
    const memory = { relation: 'split', sha256, bodies: [], recipe };
    addSourceLink(builder, definition, relativePath(assembly, source), memory);
  };
}

/** Whether a path is in use already; letters in either case are the same. */
export function takenIn(project: Project): (path: string) => boolean {
  const paths = new Set([...project.files.keys()].map(foldPath));
  return (path) => paths.has(foldPath(path));
}
