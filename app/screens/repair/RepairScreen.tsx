import { Checkbox } from '@mantine/core';
import { Link, useNavigation, useOutletContext } from 'react-router';
import type { SceneData } from '#core/geometry/scene';
import type { Candidate } from '#core/jobs/repair/rank';
import type { RepairRow, RepairTable } from '#server/views/operations/repair-table';
import type { BrokenLink } from '#server/views/operations/repair-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { JustDone, OperationPage } from '../../ui/operation/OperationPage';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { BrokenQueue } from './BrokenQueue';
import { Candidates } from './Candidates';
import { AllSound, NoFiles } from './NothingToRepair';
import { planLines } from './plan-lines';
import { keyAfter } from './queue';
import classes from './Repair.module.css';
import { Together } from './Together';
import { useTicks } from './useTicks';

interface RepairScreenProps {
  queue: BrokenLink[];
  /** All of them with what is proposed for each; null where one at a time is looked at. */
  table: RepairTable | null;
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

const NO_ROWS: readonly RepairRow[] = [];

/** Broken links, one at a time or all together: pick the right file, see it in its place, see what will change, apply. */
export function RepairScreen({ queue, table, current, toRenew, files }: RepairScreenProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  const busy = useNavigation().state === 'loading';
  const link = queue.find(({ key }) => key === current?.key);
  const target = current?.candidates.find(({ path }) => path === current.chosen);
  const ticks = useTicks(projectId, table?.rows ?? NO_ROWS);
  const repair = useOperation(
    'repair',
    table
      ? choicesOf(ticks)
      : link && target && target.unusable === null
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
  const { candidates, all } = current;
  const row = table?.rows.find(({ key }) => key === current.key);
  const chosen = row ? ticks.targetOf(row) : current.chosen;
  const onSelect = (key: string) => change({ link: key, candidate: null });
  const head = (
    <div className={classes.head}>
      <h1 className={classes.heading}>{plural(queue.length, 'broken link')}</h1>
      {queue.length > 1 && (
        <SegmentedControl
          aria-label="How they are repaired"
          data={[
            { value: 'each', label: 'One at a time' },
            { value: 'together', label: 'All together' },
          ]}
          value={table ? 'together' : 'each'}
          onChange={(as) => change({ as, candidate: null })}
        />
      )}
    </div>
  );
  const offered = (
    <Candidates
      candidates={candidates}
      chosen={chosen}
      isBusy={busy}
      onChoose={(path) => {
        if (row) ticks.pick(row, path);
        change({ candidate: path });
      }}
    />
  );
  const question = (
    <>
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
          No file of this project comes near. Import the missing file on the Files page, and it will be found
          by its name.
        </p>
      )}
      {offered}
    </>
  );
  return (
    <OperationPage
      operation={repair}
      width={table ? 'wide' : 'narrow'}
      choices={
        table ? (
          <div className={classes.together}>
            {head}
            <Together table={table} ticks={ticks} current={current.key} onSelect={onSelect} />
            <section className={classes.others} aria-label="The link that is selected">
              {question}
              {renew}
            </section>
          </div>
        ) : (
          <div className={classes.choices}>
            {head}
            <BrokenQueue queue={queue} current={current.key} alikeApart={!all} onSelect={onSelect} />
            {question}
            {renew}
          </div>
        )
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
      empty={table ? 'Tick the links that are to be repaired.' : 'Choose a file that can be used.'}
      label={(plan) =>
        plan && plan.rewires.length > 1 ? `Repair ${plural(plan.rewires.length, 'link')}` : 'Repair the link'
      }
      doing="Repairing"
      onApplied={() => {
        const done = repair.planned?.rewires ?? [];
        const repaired = new Set(done.map(({ holder, written }) => `${holder}::${written}`));
        if (table) ticks.forget();
        change({ link: keyAfter(queue, current.key, repaired), candidate: null, from: null, to: null });
      }}
    >
      {!table && link.alike > 1 && (
        <Checkbox
          label={`All ${link.alike} links to this name`}
          checked={all}
          onChange={(event) => change({ only: event.currentTarget.checked ? null : '1' })}
        />
      )}
    </OperationPage>
  );
}

/** Every link that is ticked, with its file; null where none is. */
function choicesOf({ ticked, targetOf }: ReturnType<typeof useTicks>): object | null {
  if (ticked.length === 0) return null;
  return {
    set: ticked.map((row) => ({
      holder: row.holder,
      kind: row.kind,
      written: row.written,
      target: targetOf(row)!,
    })),
  };
}
