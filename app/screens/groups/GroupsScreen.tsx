import { Button } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { GroupsChoices, type Joint, type RigidGroup } from '#core/jobs/groups/choices';
import type { GroupsPreview } from '#core/jobs/groups/view';
import type { WholeView } from '#server/views/operations/whole-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { OperationPage } from '../../ui/operation/OperationPage';
import { NothingToGive, WholeHead } from '../../ui/project/WholeHead';
import giving from '../giving/giving.module.css';
import { useGiving } from '../giving/useGiving';
import classes from './Groups.module.css';
import { colourOfGroup } from './GroupsList';
import { GroupsSection } from './GroupsSection';
import { JointsSection } from './JointsSection';
import { ResultSection } from './ResultSection';
import { useMoving } from './useMoving';

const NONE: ReadonlySet<number> = new Set();
const NO_GROUPS: RigidGroup[] = [];
const NO_JOINTS: Joint[] = [];
const NO_COMPONENTS: GroupsPreview['components'] = [];

/** Components gathered into rigid groups, and the joints by which the groups move. */
export function GroupsScreen({ root, roots, scene, trouble, before }: WholeView) {
  // The proposal is shown as soon as it is there; what would be made of it comes after.
  const [isAccepted, setAccepted] = useState(false);
  const { projectId, choices, set, making, preview, forget, isDone } = useGiving<
    GroupsChoices,
    GroupsPreview
  >('groups', { root, trouble }, GroupsChoices, () => GroupsChoices.parse({}), { accept: isAccepted });
  const hasProposal = (preview?.proposal.groups.length ?? 0) > 0;
  useEffect(() => setAccepted(hasProposal), [hasProposal]);

  const isProposed = choices.groups === null;
  const groups = choices.groups ?? preview?.proposal.groups ?? NO_GROUPS;
  const joints = choices.joints ?? (isProposed ? preview?.proposal.joints : null) ?? NO_JOINTS;
  const grouping = useMemo(() => ({ groups, joints }), [groups, joints]);
  const components = preview?.components ?? NO_COMPONENTS;
  const size = preview?.size ?? 1000;

  const [selected, setSelected] = useState(NONE);
  const [isDragged, setDragged] = useState(false);
  const groupOfRow = useMemo(() => {
    const at = new Map(groups.flatMap(({ members }, n) => members.map((key) => [key, n] as const)));
    return new Map(
      components.flatMap(({ key, rows }) => rows.map((row) => [row, at.get(key) ?? 0] as const)),
    );
  }, [groups, components]);
  const colours = useMemo(
    () => new Map([...groupOfRow].map(([row, group]) => [row, colourOfGroup(group)])),
    [groupOfRow],
  );
  const moving = useMoving(grouping, groupOfRow, size, isDragged);

  if (root === null)
    return (
      <NothingToGive
        title="Nothing to group yet"
        words="Then this page gathers its components into groups that move."
      />
    );

  const keysSelected = components
    .filter(({ rows }) => rows.some((row) => selected.has(row)))
    .map(({ key }) => key);
  return (
    <OperationPage
      operation={making}
      before={before}
      width="narrow"
      choices={
        <>
          <WholeHead title="Moving groups" label="What is grouped" root={root} roots={roots} />
          <div className={giving.scroll}>
            <GroupsSection
              grouping={grouping}
              isProposed={isProposed}
              isLooked={preview !== null}
              onChange={set}
              selected={keysSelected}
              onSelect={(at) =>
                setSelected(new Set([...groupOfRow].flatMap(([row, group]) => (group === at ? [row] : []))))
              }
              disabled={isDone}
            />
            <JointsSection grouping={grouping} moving={moving} size={size} onChange={set} disabled={isDone} />
            <ResultSection choices={choices} file={preview?.made?.file} onChange={set} disabled={isDone} />
          </div>
        </>
      }
      stage={
        <Stage
          scene={scene}
          sceneKey={root}
          selected={selected}
          poses={moving.poses}
          tool={moving.tool}
          colours={groups.length > 0 ? colours : undefined}
          onPick={(picked, isAdded) => {
            const component = picked && components.find(({ rows }) => rows.includes(picked.row));
            if (!component) setSelected(NONE);
            else setSelected(new Set(isAdded ? [...selected, ...component.rows] : component.rows));
          }}
        >
          <div className={classes.tools} role="toolbar" aria-label="Moving">
            <Button
              variant={isDragged ? 'light' : 'default'}
              aria-pressed={isDragged}
              disabled={joints.length === 0}
              onClick={() => setDragged(!isDragged)}
            >
              Move by hand
            </Button>
            {isDragged && <span>Drag a group, or click to take hold of it and again to let go.</span>}
          </div>
        </Stage>
      }
      warnings={trouble ? [trouble] : []}
      onApplied={forget}
      empty={trouble ?? 'Nothing yet.'}
      label={() => 'Make the groups'}
      doing="Making the groups"
      done={() =>
        preview?.made && (
          <Link to={addressIn(projectId, 'structure', { root: preview.made.file })}>Open it</Link>
        )
      }
    />
  );
}
