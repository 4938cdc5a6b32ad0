import { Button } from '@mantine/core';
import { useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { LogEntry } from '#server/projects/projects';
import type { Health } from '#server/projects/scan/health';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Time } from '../../ui/measures/Time';
import { HealthOverTime } from '../../ui/project/HealthOverTime';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Activity.module.css';
import { TakeBack } from './TakeBack';

const STEPS = ['undo', 'redo'] as const;

/** What was done in the project, newest first, with the way back. */
export function ActivityScreen({ entries, health }: { entries: LogEntry[]; health: readonly Health[] }) {
  const { projectId, mayEdit, operations } = useOutletContext<ProjectContext>();
  const canBeMadeAgain = (made: string | null) =>
    operations.some(({ name, accepts }) => name === made && accepts.what !== 'received');
  const [view, change] = useView();
  const [asking, setAsking] = useState<number | null>(null);
  // Whoever comes to take a step back or forward sees what that would do.
  const step = STEPS.find((known) => known === view.get('step'));
  return (
    <div className={classes.page}>
      <h1 className={classes.title}>Activity</h1>
      {step && mayEdit && (
        <div className={classes.step}>
          <TakeBack key={step} of={{ step }} onClose={() => change({ step: null })} />
        </div>
      )}
      <HealthOverTime health={health} />
      <ol className={classes.log}>
        {entries.map(({ id, time: when, who, summary, changeSet }) => (
          <li key={id} className={classes.entry}>
            <span className={classes.when}>
              <Time iso={when} />
            </span>
            <div className={classes.what}>
              <span data-undone={changeSet?.undone || undefined}>{summary}</span>
              <span className="muted"> by {who}</span>
              {changeSet && (
                <p className={classes.detail}>
                  {plural(changeSet.files, 'file')}
                  {changeSet.undone && ', taken back later'}
                </p>
              )}
              {changeSet?.rewires.slice(0, 6).map(({ holder, written, rewritten }) => (
                <p key={`${holder} ${written} ${rewritten}`} className={classes.rewire}>
                  {holder}:{' '}
                  {written === '' ? 'new link to' : rewritten === '' ? 'no link to' : `${written} →`}{' '}
                  {rewritten || written}
                </p>
              ))}
            </div>
            {changeSet &&
              mayEdit &&
              (asking === id ? (
                <TakeBack of={{ change: changeSet }} onClose={() => setAsking(null)} />
              ) : (
                <span className={classes.ways}>
                  {canBeMadeAgain(changeSet.made) && (
                    <Button
                      variant="subtle"
                      component={Link}
                      to={addressIn(projectId, 'again', { change: changeSet.id })}
                    >
                      Again…
                    </Button>
                  )}
                  <Button
                    variant="subtle"
                    component={Link}
                    to={addressIn(projectId, 'compare', { with: changeSet.id })}
                  >
                    Compare…
                  </Button>
                  {!changeSet.undone && (
                    <Button variant="default" onClick={() => setAsking(id)}>
                      {changeSet.isUndo ? 'Do it again…' : 'Undo…'}
                    </Button>
                  )}
                </span>
              ))}
          </li>
        ))}
      </ol>
    </div>
  );
}
