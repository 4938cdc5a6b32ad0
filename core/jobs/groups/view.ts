import { type Box, diagonalOf } from '#core/product/box';
import type { Joint, RigidGroup } from './choices';
import type { GroupsOutline } from './plan';

/** Moving groups for their page. */
export interface GroupsPreview {
  proposal: { groups: RigidGroup[]; joints: Joint[] };
  groups: RigidGroup[];
  joints: Joint[];
  loose: string[];
  made: GroupsOutline['made'];
  components: { key: string; name: string; file: string; rows: number[] }[];
  box: Box;
  /** Diagonal of the whole, mm. */
  size: number;
}

export function groupsPreview({
  whole,
  proposal,
  groups,
  joints,
  loose,
  made,
}: GroupsOutline): GroupsPreview {
  return {
    proposal,
    groups,
    joints,
    loose,
    made,
    components: whole.occurrences.map(({ key, name, place, bodies }) => ({
      key,
      name,
      file: place.path,
      rows: bodies,
    })),
    box: whole.box,
    size: diagonalOf(whole.box),
  };
}
