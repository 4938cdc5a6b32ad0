import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import { type FindingKind, kindOfFinding } from '#core/jobs/advice/finding';
import type { AdvisedFinding } from '#core/jobs/advice/report';
import { addressIn } from '../../ui/address/addresses';
import { addressOf } from '../../ui/operation/operations';
import { FileLink } from '../../ui/project/FileLink';
import type { ProjectContext } from '../../ui/project/project-context';
import { useAtOnce } from '../../ui/task/useAtOnce';
import classes from './Advice.module.css';

/** So many files of a finding are named; the table has the rest. */
const MOST_NAMED = 40;

/** What shows where the first of the files is drawn. */
const SEEN: ReadonlySet<FindingKind> = new Set([
  'run-into',
  'on-top',
  'far-away',
  'wrong-volume',
  'many-bodies',
  'loose-body',
]);

/** Why a finding matters, which files it is about, what to do, and letting it stay. */
export function FindingFacts({ kind, finding }: { kind: FindingKind; finding: AdvisedFinding | null }) {
  const { projectId, operations, mayEdit } = useOutletContext<ProjectContext>();
  const { title, why, remedy, operation } = kindOfFinding(kind);
  const doing = operations.find(({ name }) => name === operation);
  const users = operations.find(({ name }) => name === 'used-in');
  const files = finding?.files ?? [];
  return (
    <>
      <h2>{title}</h2>
      {finding && <p className={classes.words}>{finding.words}</p>}
      <h3>Why it matters</h3>
      <p>{why}</p>
      <h3>What to do</h3>
      <p>{remedy}</p>
      {finding && (
        <>
          <div className={classes.actions}>
            {doing && mayEdit && (
              <Button component={Link} to={addressOf(projectId, doing, startFor(doing.accepts.what, files))}>
                {doing.title}
              </Button>
            )}
            {(kind === 'loop' || kind === 'luck') && (
              <Button component={Link} to={addressIn(projectId, 'repair')} variant="default">
                Repair desk
              </Button>
            )}
            {SEEN.has(kind) && files[0] !== undefined && (
              <Button
                component={Link}
                to={addressIn(projectId, 'structure', { root: files[0] })}
                variant="default"
              >
                On the stage
              </Button>
            )}
            {users && (
              <Button component={Link} to={addressOf(projectId, users, files)} variant="default">
                {users.title}
              </Button>
            )}
          </div>
          <h3>Files</h3>
          <ul className={classes.files}>
            {files.slice(0, MOST_NAMED).map((path) => (
              <li key={path}>
                <FileLink projectId={projectId} path={path} />
              </li>
            ))}
            {files.length > MOST_NAMED && <li className="muted">and {files.length - MOST_NAMED} more</li>}
          </ul>
          {mayEdit && <Stays finding={finding} />}
        </>
      )}
    </>
  );
}

/** What an operation is begun with: the file that should be changed first, or all of them. */
function startFor(what: string, files: readonly string[]): readonly string[] {
  return what === 'files' ? files : files.slice(0, 1);
}

/** Letting a finding stay, with a reason; or having it found again. */
function Stays({ finding: { kind, files, about, dismissed } }: { finding: AdvisedFinding }) {
  const dismissing = useAtOnce('dismiss');
  const [reason, setReason] = useState('');
  const carryOut = (why: string | null) =>
    void dismissing.carryOut({ findings: [{ kind, files, about }], reason: why });
  return (
    <form
      className={classes.stays}
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() !== '') carryOut(reason.trim());
      }}
    >
      {dismissed === null ? (
        <>
          <TextInput
            label="Let it stay, because"
            placeholder="It comes back when one of the files changes"
            value={reason}
            maxLength={300}
            onChange={(event) => setReason(event.currentTarget.value)}
          />
          <Button
            type="submit"
            variant="default"
            loading={dismissing.isRunning}
            disabled={reason.trim() === ''}
          >
            Let it stay
          </Button>
        </>
      ) : (
        <>
          <p>May stay: {dismissed}</p>
          <Button variant="default" loading={dismissing.isRunning} onClick={() => carryOut(null)}>
            Find it again
          </Button>
        </>
      )}
      {dismissing.trouble && (
        <p role="alert" className={classes.trouble}>
          {dismissing.trouble}
        </p>
      )}
    </form>
  );
}
