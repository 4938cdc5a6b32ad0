import { Button, Checkbox } from '@mantine/core';
import { Link, useNavigation, useOutletContext } from 'react-router';
import type { SceneData } from '#core/geometry/scene';
import type { Candidate } from '#core/jobs/repair/rank';
import type { PlannedView } from '#server/views/operations/planned-view';
import type { BrokenLink } from '#server/views/operations/repair-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { LinkMark } from '../../ui/LinkMark';
import { JustDone, OperationPage } from '../../ui/operation/OperationPage';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { queueEntries } from './queue';
import classes from './Repair.module.css';

interface RepairScreenProps {
  queue: BrokenLink[];
  current: {
    key: string;
    candidates: Candidate[];
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

  if (files === 0)
    return (
      <div className={classes.blank}>
        <h1>Nothing to look through yet</h1>
        <p className="muted">
          This project has no file. Import a folder of linked files; broken links then stand here.
        </p>
        <Button component={Link} to={addressIn(projectId, 'files')}>
          Go to Files
        </Button>
      </div>
    );
  if (!current || !link) {
    return (
      <div className={classes.blank}>
        <svg viewBox="0 0 12 12" width="34" height="34" aria-hidden="true">
          <circle cx="6" cy="6" r="5" fill="none" stroke="var(--st-sound)" strokeWidth="0.9" />
          <path
            d="M3.6 6.2 5.3 7.9 8.5 4.5"
            fill="none"
            stroke="var(--st-sound)"
            strokeWidth="1"
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        </svg>
        <h1>Every link is sound</h1>
        <p className="muted">Nothing to repair. The project can be handed off as it is.</p>
        <Button component={Link} to={addressIn(projectId, 'hand-off')}>
          Go to Hand-off
        </Button>
        {renew}
        <JustDone operation={repair} />
      </div>
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
          <ul className={classes.queue} aria-label="Broken links">
            {queueEntries(queue, current.key, !all).map(({ link: broken, more }) => (
              <li key={broken.key} ref={broken.key === current.key ? intoView : undefined}>
                <button
                  type="button"
                  className={classes.link}
                  aria-current={broken.key === current.key}
                  onClick={() => change({ link: broken.key, candidate: null })}
                >
                  <span className={classes.linkHead}>
                    <b>{broken.kind === 'source' ? 'The source' : broken.wanted || broken.written}</b>
                    <LinkMark state={broken.state} />
                  </span>
                  <span className={classes.written}>{broken.written}</span>
                  <span className={classes.reason}>
                    {broken.reason} {whereInWords(broken, more)}
                  </span>
                </button>
              </li>
            ))}
          </ul>
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
          <div className={classes.candidates} role="radiogroup" aria-label="Candidates" aria-busy={busy}>
            {candidates.map(({ path, score, evidence, unusable }) => (
              <button
                key={path}
                type="button"
                role="radio"
                aria-checked={path === chosen}
                disabled={unusable !== null}
                className={classes.candidate}
                onClick={() => change({ candidate: path })}
              >
                <span className={classes.score}>
                  <span className={classes.bar} style={{ width: `${Math.round(score * 100)}%` }} />
                  {score.toFixed(2)}
                </span>
                <span>
                  <span className={classes.path}>{path}</span>
                  {unusable !== null && <span className={classes.against}>{unusable}</span>}
                  {evidence.map(({ words, weight }) => (
                    <span key={words} className={weight < 0 ? classes.against : classes.for}>
                      {words}
                    </span>
                  ))}
                </span>
              </button>
            ))}
          </div>
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

/** The queue may be long: the link that is looked at is seen. */
function intoView(entry: HTMLLIElement | null): void {
  entry?.scrollIntoView?.({ block: 'nearest' });
}

/** Where a link stands, and what for. */
function whereInWords({ kind, holder, occurrences }: BrokenLink, more: number): React.ReactNode {
  return (
    <>
      {kind === 'source' ? 'Of ' : 'In '}
      <span className="mono">{holder.split('/').at(-1)}</span>
      {kind !== 'source' && more === 0 && `, placed ${plural(occurrences, 'time')}`}
      {more > 0 && ` and ${plural(more, 'more file')}`}.
    </>
  );
}

/** So many files are named one by one. */
const MOST_NAMED = 3;

function planLines({ rewires }: PlannedView): React.ReactNode[] {
  const more = rewires.length - MOST_NAMED;
  const named = rewires
    .slice(0, more === 1 ? rewires.length : MOST_NAMED)
    .map(({ holder, written, rewritten }) => (
      <>
        <span className="mono">{holder}</span>: <span className="mono muted">{written}</span>{' '}
        {written === rewritten ? (
          'stays as it is written.'
        ) : (
          <>
            becomes <span className="mono">{rewritten}</span>.
          </>
        )}{' '}
        No other byte of the file changes, and its old version is kept.
      </>
    ));
  if (more <= 1) return named;
  return [
    ...named,
    <details key="more">
      <summary>{plural(more, 'more file')}, the same way.</summary>
      {rewires.slice(MOST_NAMED).map(({ holder, rewritten }) => (
        <div key={`${holder} ${rewritten}`} className="mono">
          {holder}: {rewritten}
        </div>
      ))}
    </details>,
  ];
}
