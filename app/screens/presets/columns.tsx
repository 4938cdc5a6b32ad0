import { baseName, folderOf } from '#core/files/links/paths';
import type { MadeByPreset } from '#core/jobs/presets/plan';
import type { PresetsView } from '#server/views/operations/presets-view';
import { count } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { Bytes } from '../../ui/measures/Figures';
import classes from './Presets.module.css';

/** A file, and what would become of it, where that is known. */
export type FileToMake = PresetsView['files'][number] & { made: MadeByPreset | undefined };

export const COLUMNS: LedgerColumn<FileToMake>[] = [
  {
    key: 'file',
    title: 'File',
    width: 'minmax(150px, 1.3fr)',
    cell: ({ path }) => (
      <span title={path}>
        {baseName(path)}
        {folderOf(path) !== '' && <span className="muted"> {folderOf(path)}</span>}
      </span>
    ),
    sort: ({ path }) => baseName(path),
  },
  { key: 'role', title: 'Is', width: '74px', cell: ({ role }) => role, sort: ({ role }) => role },
  {
    key: 'made',
    title: 'Becomes',
    width: 'minmax(140px, 1.2fr)',
    cell: ({ made }) => {
      if (!made) return '';
      if (made.made === null)
        return (
          <span className={classes.why} title={made.why ?? ''}>
            {made.why}
          </span>
        );
      return (
        <span title={made.made}>
          {baseName(made.made)}
          {made.isMadeAgain && <span className="muted"> made again</span>}
        </span>
      );
    },
    sort: ({ made }) => made?.made ?? '',
  },
  {
    key: 'faces',
    title: 'Faces',
    width: '104px',
    numeric: true,
    cell: ({ made }) =>
      made?.before && made.after && `${count(made.before.faces)} → ${count(made.after.faces)}`,
    sort: ({ made }) => made?.after?.faces ?? -1,
  },
  {
    key: 'before',
    title: 'Bytes',
    width: '78px',
    numeric: true,
    cell: ({ bytes, made }) => <Bytes of={made?.before?.bytes ?? bytes} />,
    sort: ({ bytes, made }) => made?.before?.bytes ?? bytes,
  },
  {
    key: 'after',
    title: 'Then',
    width: '78px',
    numeric: true,
    cell: ({ made }) => made?.after && <Bytes of={made.after.bytes} />,
    sort: ({ made }) => made?.after?.bytes ?? -1,
  },
];
