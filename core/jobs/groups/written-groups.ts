import { Part21File } from '#core/files/part21/file';
import type { Whole } from '#core/geometry/whole/whole';
import type { PlanContext } from '#core/planning';
import type { RigidGroup } from './choices';
import type { Proposal } from './propose';
import { readKinematics } from './read-kinematics';

/**
 * The groups and joints of the mechanism that a file describes (ISO 10303-105), as when it was made here: a link is what stands in the
 * structure under its name. Null for a file without a mechanism, or with one whose links are not found.
 */
export async function writtenGroups(
  { draft }: Pick<PlanContext, 'draft'>,
  whole: Whole,
): Promise<Proposal | null> {
  const file = Part21File.read(await draft.read(whole.root));
  if (file.idsOfType('KINEMATIC_LINK').length === 0) return null;
  const { links, joints } = readKinematics(file);
  const groups = links.map((name): RigidGroup => {
    const members = whole.occurrences.flatMap(({ key }) =>
      key === name || key.startsWith(`${name} / `) ? [key] : [],
    );
    return { name, members };
  });
  const isWhole = groups.length > 1 && groups.every(({ members }) => members.length > 0);
  const known = new Set(links);
  return isWhole && known.size === links.length
    ? { groups, joints: joints.filter(({ between }) => between.every((name) => known.has(name))) }
    : null;
}
