import { Button } from '@mantine/core';
import { Form, useNavigation, useOutletContext } from 'react-router';
import type { LogEntry } from '#server/projects/projects';
import { plural, time } from '../../ui/format';
import type { ProjectContext } from '../project/ProjectFrame';
import classes from './Activity.module.css';

/** What was done in the project, newest first, with the way back. */
export function ActivityScreen({ entries, error }: { entries: LogEntry[]; error?: string }) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const busy = useNavigation().formData?.get('changeSet');
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
                <p key={holder + written} className={classes.rewire}>
                  {holder}: {written} → {rewritten}
                </p>
              ))}
            </div>
            {changeSet && !changeSet.undone && mayEdit && (
              <Form method="post">
                <input type="hidden" name="changeSet" value={changeSet.id} />
                <Button type="submit" variant="default" loading={busy === changeSet.id}>
                  {changeSet.isUndo ? 'Do it again' : 'Undo'}
                </Button>
              </Form>
            )}
          </li>
        ))}
      </ol>
    </main>
  );
}
