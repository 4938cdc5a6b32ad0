import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { baseName } from '#core/files/links/paths';
import type { OnConflict } from '#core/jobs/handoff/on-conflict';
import type { ImportOutline } from '#core/jobs/import/plan';
import type { Upload } from '#server/projects/files/uploads';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { countsInWords, plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { Bytes } from '../../ui/measures/Figures';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl } from '../../ui/options';
import { PathText } from '../../ui/PathText';
import type { ProjectContext } from '../../ui/project/project-context';
import { dropUpload } from '../../ui/sending/upload';
import { Bring } from '../files/Bring';
import { HistoryOfExport } from './HistoryOfExport';
import classes from './Import.module.css';
import { changesLinks, LinksAfterImport } from './LinksAfterImport';
import { type ArrivingRow, arrivingRows } from './rows';

const COLUMNS: LedgerColumn<ArrivingRow>[] = [
  {
    key: 'path',
    title: 'File',
    width: 'minmax(200px, 1fr)',
    cell: ({ path }) => <PathText path={path} />,
    sort: ({ path }) => path,
  },
  {
    key: 'becomes',
    title: 'Becomes',
    width: 'minmax(120px, 0.7fr)',
    cell: ({ becomes }) => <span title={becomes}>{becomes}</span>,
    sort: ({ becomes }) => becomes,
  },
  {
    key: 'problem',
    title: 'Problem',
    width: 'minmax(160px, 1.3fr)',
    cell: ({ problem }) => (
      <span className={classes.problem} title={problem}>
        {problem}
      </span>
    ),
    sort: ({ problem }) => problem || null,
  },
];

/** What arrived from outside: what becomes of every file and of the links, before anything changes. */
export function ImportScreen({ upload }: { upload: Upload | null }) {
  const { projectId } = useOutletContext<ProjectContext>();
  const navigate = useNavigate();
  const [address] = useView();
  const [onConflict, setOnConflict] = useState<OnConflict>('replace');
  const [withoutHistory, setWithoutHistory] = useState(false);
  const [selected, setSelected] = useState<string | null>(null);
  const importing = useOperation<ImportOutline>(
    'import',
    upload && { from: [upload.id], onConflict, withoutHistory },
    'Undo the import',
  );
  const outline = importing.planned?.preview ?? null;
  const rows = useMemo(() => (outline ? arrivingRows(outline) : []), [outline]);
  if (upload === null)
    return (
      <Bring startOpen={false}>
        {(button) => (
          <div className={layout.blank}>
            <h1>Import</h1>
            <p className="muted">
              Drop a folder of linked files here, single files, a zip or a package; or choose them. What they
              change is shown before anything changes. What was sent is kept for a day, for whoever sent it.
            </p>
            {button}
          </div>
        )}
      </Bring>
    );
  const [place, placeIn] = [address.get('place'), address.get('placeIn')];
  const placing = place !== null && placeIn !== null && (
    <Link to={addressIn(projectId, 'place', { file: placeIn, part: place })}>
      Place {baseName(place)} in {baseName(placeIn)}
    </Link>
  );
  const isHereAlready = outline !== null && importing.planned?.files.length === 0;
  const collisions = outline ? outline.replaced.length + outline.conflicts.length : 0;
  const leave = async () => {
    await dropUpload(projectId, upload.id);
    await navigate(addressIn(projectId, 'files'));
  };
  return (
    <OperationPage
      operation={importing}
      choices={
        <>
          <h1 className={layout.heading}>Import</h1>
          <p className={classes.arrived}>
            {plural(upload.files, 'file')}, <Bytes of={upload.bytes} />, arrived.
            {outline && outline.unchanged > 0 && ` ${outline.unchanged} of them are here already.`}
            {outline && !changesLinks(outline.links) && ' No link breaks by this.'}
            {isHereAlready && placing && <> {placing}</>}
            {outline?.verified.map(({ path, files }) => (
              <span key={path}>
                {' '}
                <span className="mono">{path}</span>: all {plural(files, 'file')} match their checksums.
              </span>
            ))}
          </p>
          {outline?.history && (
            <HistoryOfExport
              history={outline.history}
              isLeftOut={withoutHistory}
              onLeaveOut={setWithoutHistory}
            />
          )}
          {collisions > 0 && (
            <div className={classes.collisions}>
              <span>Where a file of the same name is there already:</span>
              <SegmentedControl
                aria-label="Where a file of the same name is there already"
                data={[
                  { value: 'replace', label: 'New version' },
                  { value: 'keep', label: 'Keep mine' },
                  { value: 'both', label: 'Keep both' },
                ]}
                value={onConflict}
                onChange={(value) => setOnConflict(value as OnConflict)}
              />
            </div>
          )}
          {upload.refused.length > 0 && (
            <ul className={classes.refused} aria-label="Not taken">
              {upload.refused.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          )}
          <div className={layout.table}>
            <Ledger
              label="What arrived"
              columns={COLUMNS}
              rows={rows}
              keyOf={({ path }) => path}
              selected={selected}
              onSelect={({ path }) => setSelected(path)}
              empty={importing.refusal ?? (outline ? 'All of it is here already.' : 'Looking at the files…')}
            />
          </div>
        </>
      }
      stage={outline && changesLinks(outline.links) && <LinksAfterImport links={outline.links} />}
      empty={outline ? 'Nothing: all of it is here already.' : 'Looking at the files…'}
      label={(planned) =>
        planned && planned.files.length > 0 ? `Import ${plural(planned.files.length, 'file')}` : 'Import'
      }
      doing="Importing"
      outcome={({ preview }) => [inShort(preview)]}
      done={() => (
        <>
          {placing}
          <Link to={addressIn(projectId, 'files')}>Open Files</Link>
        </>
      )}
    >
      {!importing.isDone && !importing.work.running && (
        <Button variant="subtle" color="gray" onClick={() => void leave()}>
          Discard what was sent
        </Button>
      )}
    </OperationPage>
  );
}

/** What an import did, in one line. */
function inShort({ added, replaced, unchanged, verified, links, history }: ImportOutline): string {
  const counts = countsInWords([
    [added.length, 'new file'],
    [replaced.length, 'new version'],
    [unchanged, 'unchanged', 'unchanged'],
  ]);
  const parts = counts === '' ? [] : [`${counts}.`];
  if (verified.length > 0) parts.push('Every checksum was verified.');
  if (history?.comes)
    parts.push(`${plural(history.versions, 'version')} and ${plural(history.changes, 'change')} came along.`);
  if (links.broken.length > 0)
    parts.push(`${plural(links.broken.length, 'link leads', 'links lead')} nowhere now.`);
  if (links.mended.length > 0)
    parts.push(`${plural(links.mended.length, 'broken link was', 'broken links were')} mended.`);
  return parts.join(' ');
}
