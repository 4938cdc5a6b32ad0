import { Button, VisuallyHidden } from '@mantine/core';
import { Fragment, useState } from 'react';
import { href, Link, useNavigation, useOutletContext } from 'react-router';
import type { CatalogueView, OfferedRow } from '#server/views/operations/catalogue-view';
import { addressIn } from '../../ui/address/addresses';
import { FormButton } from '../../ui/FormButton';
import { count, plural } from '../../ui/format';
import { Time } from '../../ui/measures/Time';
import layout from '../../ui/operation/OperationPage.module.css';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Catalogue.module.css';
import { PublishForm } from './PublishForm';
import { RenewLook } from './RenewLook';
import { isOutdated, standingInWords } from './words';

interface PublishedProps extends CatalogueView {
  mayPublish: boolean;
  error: string | undefined;
}

/** What is looked at below the table: one offer, or all that are renewed. */
type Open = { path: string } | 'renewal' | null;

/** The files of a project that were made for outside, and which of them anybody may download. */
export function PublishedScreen({ offered, others, mayPublish, error }: PublishedProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const isBusy = useNavigation().state !== 'idle';
  const [open, setOpen] = useState<Open>(null);
  const outdated = offered.filter(isOutdated);
  const isOpen = (path: string) => open !== null && open !== 'renewal' && open.path === path;
  if (offered.length === 0 && others.length === 0)
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
  const close = () => setOpen(null);
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
        <div className={classes.bar}>
          <h2>Offered</h2>
          {outdated.length > 0 && mayPublish && (
            <Button
              size="compact-sm"
              variant={open === 'renewal' ? 'default' : 'filled'}
              disabled={isBusy}
              aria-expanded={open === 'renewal'}
              onClick={() => setOpen(open === 'renewal' ? null : 'renewal')}
            >
              Renew {plural(outdated.length, 'outdated offer')}…
            </Button>
          )}
        </div>
        {open === 'renewal' && outdated.length > 0 && <RenewLook rows={outdated} onClose={close} />}
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
              {offered.map((row) => (
                <Fragment key={row.id}>
                  <tr>
                    <td>
                      <Link to={href('/catalogue/:token', { token: row.token })}>{row.title}</Link>
                      <Standing row={row} />
                    </td>
                    <td className="mono">{row.path}</td>
                    <td>
                      <Time iso={row.time} />
                    </td>
                    <td className={classes.counts}>{downloadsInWords(row)}</td>
                    <td>
                      <div className={classes.does}>
                        <Button
                          size="compact-sm"
                          variant="default"
                          disabled={!mayPublish || isBusy || row.file === 'gone'}
                          aria-label={`Change how ${row.title} is offered`}
                          aria-expanded={isOpen(row.path)}
                          onClick={() => setOpen(isOpen(row.path) ? null : { path: row.path })}
                        >
                          Change…
                        </Button>
                        <FormButton
                          fields={{ id: row.id }}
                          size="compact-sm"
                          disabled={!mayPublish || isBusy}
                          aria-label={`Withdraw ${row.title}`}
                        >
                          Withdraw
                        </FormButton>
                      </div>
                    </td>
                  </tr>
                  {isOpen(row.path) && (
                    <tr>
                      <td colSpan={5}>
                        <PublishForm path={row.path} offered={row} onClose={close} />
                      </td>
                    </tr>
                  )}
                </Fragment>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <section aria-label="Made for outside">
        <h2>Made for outside, not offered</h2>
        {others.length === 0 && (
          <p className="muted">
            {offered.length > 0
              ? 'Every file that was made for outside is offered.'
              : 'No file of the project was made for outside.'}
          </p>
        )}
        <ul>
          {others.map(({ path }) => (
            <li key={path}>
              <div className={classes.publish}>
                <span className="mono">{path}</span>
                <Button
                  size="compact-sm"
                  disabled={!mayPublish || isBusy}
                  aria-label={`Publish ${path}`}
                  aria-expanded={isOpen(path)}
                  onClick={() => setOpen(isOpen(path) ? null : { path })}
                >
                  Publish…
                </Button>
              </div>
              {isOpen(path) && <PublishForm path={path} offered={undefined} onClose={close} />}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function Standing({ row }: { row: OfferedRow }) {
  const words = standingInWords(row);
  return <div className={words === 'up to date' ? classes.current : classes.older}>{words}</div>;
}

function downloadsInWords({ files }: Pick<OfferedRow, 'files'>): string {
  return files
    .filter(({ offered, downloads }) => offered || downloads > 0)
    .map(({ format, downloads, offered }) => `${format} ${count(downloads)}${offered ? '' : ' (no longer)'}`)
    .join(', ');
}
