import { Checkbox } from '@mantine/core';
import { Link, useNavigation, useOutletContext } from 'react-router';
import type { SceneData } from '#core/geometry/scene';
import type { Candidate } from '#core/jobs/repair/rank';
import type { BrokenLink } from '#server/views/operations/repair-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { JustDone, OperationPage } from '../../ui/operation/OperationPage';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { BrokenQueue } from './BrokenQueue';
import { Candidates } from './Candidates';
import { AllSound, NoFiles } from './NothingToRepair';
import { planLines } from './plan-lines';
import classes from './Repair.module.css';

interface RepairScreenProps {
  queue: BrokenLink[];
  current: {
    key: string;
    candidates: readonly Candidate[];
    chosen: string | null;
    all: boolean;
    scene: SceneData;
  } | null;
  /** Files that write links in a form that others do not follow. */
  toRenew: number;
  /** How many files the project has. */
  files: number;
}

/** The queue of broken links: pick the right file, see it in its place, see what will change, apply. */
export function RepairScreen({ queue, current, toRenew, files }: RepairScreenProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  const busy = useNavigation().state === 'loading';
  const link = queue.find(({ key }) => key === current?.key);
  const target = current?.candidates.find(({ path }) => path === current.chosen);
  const repair = useOperation(
    'repair',
    link && target && target.unusable === null
      ? {
          set: [{ holder: link.holder, kind: link.kind, written: link.written, target: target.path }],
          alike: current!.all,
        }
      : null,
  );

  const renew = toRenew > 0 && (
    <p className={classes.renew}>
      {plural(toRenew, 'file writes', 'files write')} links in a form that other programs pass over.{' '}
      <Link to={addressIn(projectId, 'renew')}>Renew how links are written</Link>
    </p>
  );

  if (files === 0) return <NoFiles projectId={projectId} />;
  if (!current || !link) {
    return (
      <AllSound projectId={projectId}>
        {renew}
        <JustDone operation={repair} />
      </AllSound>
    );
  }
  const { candidates, chosen, all } = current;
  return (
    <OperationPage
      operation={repair}
      width="narrow"
      choices={
        <div className={classes.choices}>
          <h1 className={classes.heading}>{plural(queue.length, 'broken link')}</h1>
          <BrokenQueue
            queue={queue}
            current={current.key}
            alikeApart={!all}
            onSelect={(key) => change({ link: key, candidate: null })}
          />
          <h2 className={classes.heading}>
            Which file is <span className="mono">{link.written.split(/[\\/]/).at(-1)}</span>?
          </h2>
          {link.state === 'loop' && (
            <p className={classes.none}>
              These files place each other. Replace one of them outside, or import a version that does not, to
              break the loop.
            </p>
          )}
          {link.state !== 'loop' && candidates.length === 0 && (
            <p className={classes.none}>
              No file of this project comes near. Import the missing file on the Files page, and it will be
              found by its name.
            </p>
          )}
          <Candidates
            candidates={candidates}
            chosen={chosen}
            isBusy={busy}
            onChoose={(path) => change({ candidate: path })}
          />
          {renew}
        </div>
      }
      stage={
        <>
          <Stage scene={current.scene} sceneKey={current.key} />
          <p className={classes.caption}>
            {chosen ? (
              <>
                <i /> <b>{chosen.split('/').at(-1)}</b>
                {link.kind === 'source'
                  ? `, with what ${link.holder.split('/').at(-1)} came out of`
                  : ` in its place in ${link.holder.split('/').at(-1)}`}
              </>
            ) : (
              'No candidate chosen: the component is left out'
            )}
          </p>
        </>
      }
      lines={planLines}
      empty="Choose a file that can be used."
      label={(plan) =>
        plan && plan.rewires.length > 1 ? `Repair ${plan.rewires.length} links` : 'Repair the link'
      }
      doing="Repairing"
    >
      {link.alike > 1 && (
        <Checkbox
          label={`All ${link.alike} links to this name`}
          checked={all}
          onChange={(event) => change({ only: event.currentTarget.checked ? null : '1' })}
        />
      )}
    </OperationPage>
  );
}
