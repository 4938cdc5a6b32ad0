import { Button, Menu } from '@mantine/core';
import { useEffect } from 'react';
import { Link, useFetcher } from 'react-router';
import { lookOf } from '#core/project/formats/looks';
import type { FileFacts } from '#server/views/files/file-facts';
import type { FileRow } from '#server/views/packed/packed-rows';
import { addressIn, downloadAddress } from '../../ui/address/addresses';
import { LinkMark } from '../../ui/LinkMark';
import { Bytes } from '../../ui/measures/Figures';
import { Time } from '../../ui/measures/Time';
import { CameOutOf } from '../../ui/project/CameOutOf';
import { DoneWith } from '../../ui/project/DoneWith';
import { FileLink } from '../../ui/project/FileLink';
import { MadeLighter } from '../../ui/project/MadeLighter';
import { Star } from '../../ui/project/Star';
import { useAtOnce } from '../../ui/task/useAtOnce';
import type { Ways } from './Bring';
import { pictureAddress } from './columns';
import { FileItems } from './FileItems';
import classes from './Files.module.css';

/** One file: what it uses, where it is used, its versions. */
export function FileDrawer({
  file,
  projectId,
  mayEdit,
  bring,
  isStarred,
  onClose,
}: {
  file: FileRow;
  projectId: string;
  mayEdit: boolean;
  bring: Ways;
  isStarred: boolean;
  onClose: () => void;
}) {
  const { load, data } = useFetcher<FileFacts>();
  useEffect(
    () => void load(addressIn(projectId, 'file-facts', { path: file.path })),
    [file.path, projectId, load],
  );
  return (
    <aside className={classes.drawer} aria-label={`Facts about ${file.path}`}>
      <div className={classes.drawerHead}>
        <h2 className="mono">{file.path}</h2>
        <Star projectId={projectId} path={file.path} name={file.path} isStarred={isStarred} />
        {file.role === 'assembly' && (
          <Link to={addressIn(projectId, 'structure', { root: file.path })} className={classes.more}>
            Open its structure
          </Link>
        )}
        {file.bodies > 1 && (
          <Link to={addressIn(projectId, 'split', { file: file.path })} className={classes.more}>
            Split it
          </Link>
        )}
        {file.role === 'part' && file.bodies > 0 && (
          <Link to={addressIn(projectId, 'cut', { file: file.path })} className={classes.more}>
            Cut a body
          </Link>
        )}
        {lookOf(file.path) && (
          <Link to={addressIn(projectId, 'look', { path: file.path })} className={classes.more}>
            Look at it here
          </Link>
        )}
        <span className={classes.space} />
        {mayEdit && (
          <Menu position="bottom-end">
            <Menu.Target>
              <Button variant="default">Change</Button>
            </Menu.Target>
            <Menu.Dropdown>
              <FileItems files={[file]} bring={bring} />
            </Menu.Dropdown>
          </Menu>
        )}
        <Button variant="subtle" color="gray" onClick={onClose}>
          Close
        </Button>
      </div>
      {file.error && (
        <p className={classes.error} role="alert">
          {file.error} Save the file again in the system that it comes from, and import it once more.
        </p>
      )}
      {file.damage && (
        <p className={classes.error} role="alert">
          {file.damage}
        </p>
      )}
      <div className={classes.columns}>
        {file.hasPicture && (
          <img
            className={classes.portrait}
            src={pictureAddress(projectId, file)}
            alt={`What ${file.path} looks like`}
            width={120}
            height={90}
          />
        )}
        <section>
          <h3>Uses</h3>
          {data?.uses.length === 0 && <p className="muted">No other file.</p>}
          <LinkList links={data?.uses ?? []} projectId={projectId} />
        </section>
        {data && data.shows.length > 0 && (
          <section>
            <h3>Shows</h3>
            <LinkList links={data.shows} projectId={projectId} />
          </section>
        )}
        {data && (data.sources.length > 0 || data.cameOut.length > 0) && (
          <section>
            <h3>{data.sources.length > 0 ? 'Came out of' : 'Source of'}</h3>
            <CameOutOf {...data} projectId={projectId} />
          </section>
        )}
        {data && data.done.length > 0 && (
          <section>
            <h3>Done with it</h3>
            <DoneWith done={data.done} />
          </section>
        )}
        {data?.made && (
          <section>
            <h3>Made lighter</h3>
            <MadeLighter report={data.made} />
          </section>
        )}
        {data && (data.papers.length > 0 || data.attachedTo.length > 0) && (
          <Attachments facts={data} projectId={projectId} mayEdit={mayEdit} />
        )}
        <section>
          <h3>Used in</h3>
          {data?.usedBy.length === 0 && <p className="muted">No other file.</p>}
          <ul>
            {data?.usedBy.map(({ holder, kind, occurrences }) => (
              <li key={`${kind} ${holder}`}>
                <FileLink projectId={projectId} path={holder} />{' '}
                {occurrences > 0 && <span className="muted">{occurrences} ×</span>}
              </li>
            ))}
          </ul>
        </section>
        {data && data.drawings.length > 0 && (
          <section>
            <h3>Drawings</h3>
            <ul>
              {data.drawings.map((drawing) => (
                <li key={drawing}>
                  <FileLink projectId={projectId} path={drawing} />
                </li>
              ))}
            </ul>
          </section>
        )}
        <section>
          <h3>Versions</h3>
          <ul>
            {data?.versions.map((version) => (
              <li key={version.version}>
                <b>{version.version}</b> {version.note}{' '}
                {version.path !== file.path && (
                  <span className="muted">
                    as <span className="mono">{version.path}</span>,{' '}
                  </span>
                )}
                <span className="muted">
                  {version.who}, <Time iso={version.time} />, <Bytes of={version.bytes} />
                </span>{' '}
                <a href={downloadAddress(projectId, version.sha256, version.path)}>Download</a>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </aside>
  );
}

/** What the manifest attaches to a file, or it to what; and taking that off. */
function Attachments({
  facts: { path, papers, attachedTo },
  projectId,
  mayEdit,
}: {
  facts: FileFacts;
  projectId: string;
  mayEdit: boolean;
}) {
  const detaching = useAtOnce('detach');
  const take = (file: string, from: string) => () => void detaching.carryOut({ source: from, files: [file] });
  const row = (other: string, file: string, from: string, note = '') => (
    <li key={other}>
      <FileLink projectId={projectId} path={other} /> <span className="muted">{note}</span>
      {mayEdit && (
        <Button
          variant="subtle"
          size="compact-xs"
          aria-label={`Detach ${file}`}
          disabled={detaching.isRunning}
          onClick={take(file, from)}
        >
          Detach
        </Button>
      )}
    </li>
  );
  return (
    <section>
      <h3>{papers.length > 0 ? 'Attached to it' : 'Attached to'}</h3>
      <ul>
        {papers.map(({ file, note }) => row(file, file, path, note))}
        {attachedTo.map((model) => row(model, path, model))}
      </ul>
      {detaching.trouble && <p role="alert">{detaching.trouble}</p>}
    </section>
  );
}

/** Links that the file holds: their state, and the way to where they lead. */
function LinkList({ links, projectId }: { links: FileFacts['uses']; projectId: string }) {
  return (
    <ul>
      {links.map(({ kind, written, to, state, reason }) => (
        <li key={`${kind} ${written}`} title={reason}>
          <LinkMark state={state} word="unless sound" />{' '}
          <FileLink projectId={projectId} path={to} written={written} />
        </li>
      ))}
    </ul>
  );
}
