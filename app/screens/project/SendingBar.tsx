import { Button, Progress } from '@mantine/core';
import { Link } from 'react-router';
import { plural } from '../../ui/format';
import { importAddress, type Sending } from '../../ui/sending/useSending';
import classes from './SendingBar.module.css';

/** Files on their way from this computer, said on every page of the project. */
export function SendingBar({ projectId, sending }: { projectId: string; sending: Sending }) {
  const { state, stop } = sending;
  if (state.step === 'none') return null;
  return (
    <section className={classes.bar} aria-label="Files on their way">
      {state.step === 'sending' && (
        <>
          <p role="status">
            Sending <span className="mono">{state.progress.path}</span>
          </p>
          <Progress
            className={classes.progress}
            value={(100 * state.progress.done) / Math.max(1, state.progress.total)}
            aria-label="How much was sent"
          />
          <Button variant="default" onClick={stop}>
            Cancel
          </Button>
        </>
      )}
      {state.step === 'failed' && (
        <>
          <p role="alert" className={classes.error}>
            Nothing was imported. {state.error}
          </p>
          <Button variant="default" onClick={stop}>
            Close
          </Button>
        </>
      )}
      {state.step === 'arrived' && (
        <>
          <p role="status">{plural(state.files, 'file is', 'files are')} here. Nothing has changed yet.</p>
          <Button component={Link} to={importAddress(projectId, state.upload, state.then)} onClick={stop}>
            Look at what they change
          </Button>
        </>
      )}
    </section>
  );
}
