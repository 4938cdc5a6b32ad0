import { Button } from '@mantine/core';
import { useState } from 'react';
import { Form, useNavigation, useOutletContext } from 'react-router';
import type { LogEntry } from '#server/projects/projects';
import { plural, time } from '../../ui/format';
import type { ProjectContext } from '../project/ProjectFrame';
import classes from './Activity.module.css';

/** What was done in the project, newest first, with the way back. */
export function ActivityScreen({ entries, error }: { entries: LogEntry[]; error?: string }) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const busy = useNavigation().formData?.get('changeSet');
  const [asking, setAsking] = useState<number | null>(null);
  return (
    <main className={classes.page}>
      <h1 className={classes.title}>Activity</h1>
      {error && (
        <p className={classes.error} role="alert">
          {error}
        </p>
      )}
      <ol className={classes.log}>
        {entries.map(({ id, time: when, who, summary, changeSet }) => (
          <li key={id} className={classes.entry}>
            <span className={classes.when}>{time(when)}</span>
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
              !changeSet.undone &&
              mayEdit &&
              (asking === id ? (
                <Form method="post" className={classes.confirm} onSubmit={() => setAsking(null)}>
                  <p>
                    Puts {plural(changeSet.files, 'file')} back as{' '}
                    {changeSet.files === 1 ? 'it was' : 'they were'} before, as one change. Nothing is changed
                    if one of them was changed since. Every version is kept.
                  </p>
                  <input type="hidden" name="changeSet" value={changeSet.id} />
                  <Button type="submit">{changeSet.isUndo ? 'Do it again' : 'Undo it'}</Button>
                  <Button variant="subtle" color="gray" onClick={() => setAsking(null)}>
                    Leave it
                  </Button>
                </Form>
              ) : (
                <Button variant="default" loading={busy === changeSet.id} onClick={() => setAsking(id)}>
                  {changeSet.isUndo ? 'Do it again…' : 'Undo…'}
                </Button>
              ))}
          </li>
        ))}
      </ol>
    </main>
  );
}
