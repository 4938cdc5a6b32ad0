import { Button, TextInput, VisuallyHidden } from '@mantine/core';
import { useState } from 'react';
import { href, Link, useNavigation, useOutletContext } from 'react-router';
import { stemOf } from '#core/files/links/paths';
import type { PublishOutline } from '#core/jobs/publish/plan';
import { addressIn } from '../../ui/address/addresses';
import { FormButton } from '../../ui/FormButton';
import { count } from '../../ui/format';
import { Time } from '../../ui/measures/Time';
import { useMeasures } from '../../ui/measures/useMeasures';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { TaskBar } from '../../ui/task/TaskBar';
import classes from './Catalogue.module.css';

interface PublishedProps {
  files: { path: string; sha256: string }[];
  published: {
    id: string;
    token: string;
    path: string;
    sha256: string;
    title: string;
    time: string;
    withdrawn: string | null;
    files: { format: string; downloads: number }[];
  }[];
  mayPublish: boolean;
  error: string | undefined;
}

/** The files of a project that were made for outside, and which of them anybody may download. */
export function PublishedScreen({ files, published, mayPublish, error }: PublishedProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const isBusy = useNavigation().state !== 'idle';
  const offered = published.filter(({ withdrawn }) => withdrawn === null);
  if (files.length === 0 && published.length === 0)
    return (
      <div className={layout.blank}>
        <h1>Nothing to publish yet</h1>
        <p className="muted">
          Make a lite model for outside, or a sealed solid. Then it can be offered in the catalogue, to people
          without an account.
        </p>
        <Button component={Link} to={addressIn(projectId, 'lite')}>
          Go to Lite model
        </Button>
      </div>
    );
  return (
    <div className={classes.published}>
      <header>
        <h1>Catalogue</h1>
        <Link to={href('/catalogue')}>See it as everybody does</Link>
      </header>
      {error && (
        <p className={classes.error} role="alert">
          {error}
        </p>
      )}
      <section aria-label="Offered">
        <h2>Offered</h2>
        {offered.length === 0 && <p className="muted">Nothing is offered at present.</p>}
        {offered.length > 0 && (
          <table>
            <thead>
              <tr>
                <th scope="col">Title</th>
                <th scope="col">File</th>
                <th scope="col">Since</th>
                <th scope="col">Downloads</th>
                <th scope="col">
                  <VisuallyHidden>What can be done</VisuallyHidden>
                </th>
              </tr>
            </thead>
            <tbody>
              {offered.map(({ id, token, title, path, sha256, time: since, files: formats }) => {
                const now = files.find((file) => file.path === path)?.sha256;
                return (
                  <tr key={id}>
                    <td>
                      <Link to={href('/catalogue/:token', { token })}>{title}</Link>
                      {now !== sha256 && <span className={classes.older}> an older version</span>}
                    </td>
                    <td className="mono">{path}</td>
                    <td>
                      <Time iso={since} />
                    </td>
                    <td className="number">
                      {formats.map(({ format, downloads }) => `${format} ${count(downloads)}`).join(', ')}
                    </td>
                    <td>
                      <FormButton fields={{ id }} size="compact-sm" disabled={!mayPublish || isBusy}>
                        Withdraw
                      </FormButton>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
      </section>
      <section aria-label="Made for outside">
        <h2>Made for outside</h2>
        {files.length === 0 && <p className="muted">No file of the project was made for outside.</p>}
        <ul>
          {files.map(({ path }) => (
            <PublishForm
              key={path}
              path={path}
              offered={offered.find((publication) => publication.path === path)}
              disabled={!mayPublish || isBusy}
            />
          ))}
        </ul>
      </section>
    </div>
  );
}

interface PublishFormProps {
  path: string;
  offered: { title: string } | undefined;
  disabled: boolean;
}

function PublishForm({ path, offered, disabled }: PublishFormProps) {
  const [title, setTitle] = useState(offered?.title ?? stemOf(path));
  const [asked, setAsked] = useState<string | null>(null);
  return (
    <li>
      <form
        className={classes.publish}
        onSubmit={(event) => {
          event.preventDefault();
          setAsked(title);
        }}
      >
        <span className="mono">{path}</span>
        <TextInput
          size="xs"
          aria-label={`Title of ${path}`}
          value={title}
          maxLength={120}
          onChange={(event) => setTitle(event.currentTarget.value)}
        />
        <Button type="submit" size="compact-sm" disabled={disabled || title.trim() === ''}>
          {offered ? 'Publish anew…' : 'Publish…'}
        </Button>
      </form>
      {asked !== null && <PublishLook key={asked} path={path} title={asked} onClose={() => setAsked(null)} />}
    </li>
  );
}

/** What publishing a file would offer, and the button that does it. */
function PublishLook({ path, title, onClose }: { path: string; title: string; onClose: () => void }) {
  const publishing = useOperation<PublishOutline>('publish', { file: path, title });
  const { planned, refusal, isStale, progress, work } = publishing;
  const { box } = useMeasures();
  const trouble = refusal ?? work.error;
  if (work.running)
    return <TaskBar progress={work.running} label={`Publishing ${path}`} onCancel={work.cancel} />;
  return (
    <section className={classes.look} aria-label="What will change">
      {trouble !== null && (
        <p className={classes.error} role="alert">
          {trouble}
        </p>
      )}
      {progress && <TaskBar progress={progress} label="Looking at what changes" onCancel={publishing.stop} />}
      {planned && trouble === null && (
        <p>
          Whoever has its address can download “{planned.preview.title}” without an account: STEP,{' '}
          {planned.preview.formats.map((format) => format.toUpperCase()).join(', ')} and a picture;{' '}
          {box(planned.preview.facts.sides)}. No file changes.
        </p>
      )}
      <Button
        size="compact-sm"
        disabled={!planned || isStale || trouble !== null}
        onClick={() => void publishing.apply().then((done) => done && onClose())}
      >
        Publish it
      </Button>
      <Button size="compact-sm" variant="subtle" color="gray" onClick={onClose}>
        Not now
      </Button>
    </section>
  );
}
