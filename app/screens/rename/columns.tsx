import type { RenamedPart } from '#core/jobs/rename/operation';
import { CellField } from '../../ui/fields/CellField';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { PathText } from '../../ui/PathText';
import type { NamedAnew } from './names';

interface ColumnContext {
  disabled: boolean;
  planned: readonly RenamedPart[];
  onType: (key: string, what: 'id' | 'name', text: string) => void;
}

/** The columns of what is renamed: id and name are typed in their cells. */
export function columnsFor({ disabled, planned, onType }: ColumnContext): LedgerColumn<NamedAnew>[] {
  const paths = new Map(planned.map(({ file, definition, to }) => [`${file}#${definition}`, to]));
  const field = (what: 'id' | 'name', word: string) => (row: NamedAnew) => {
    const [was, now] = what === 'id' ? [row.id, row.newId] : [row.name, row.newName];
    return (
      <CellField
        aria-label={`${word} of ${row.name}`}
        value={now}
        maxLength={200}
        disabled={disabled}
        isChanged={now !== was}
        onChange={(text) => onType(row.key, what, text)}
      />
    );
  };
  return [
    {
      key: 'name',
      title: 'Name',
      width: 'minmax(150px, 1.4fr)',
      cell: field('name', 'Name'),
      sort: ({ name }) => name,
    },
    { key: 'id', title: 'Id', width: 'minmax(110px, 1fr)', cell: field('id', 'Id'), sort: ({ id }) => id },
    {
      key: 'file',
      title: 'File',
      width: 'minmax(150px, 1.2fr)',
      cell: ({ key, file, isItsOwn }) => {
        const to = paths.get(key);
        if (to) return <PathText path={to} />;
        return isItsOwn ? <PathText path={file} /> : <span className="muted">in {file}</span>;
      },
      sort: ({ file }) => file,
    },
    {
      key: 'standIns',
      title: 'Placed by',
      width: '92px',
      cell: ({ standIns }) => (standIns > 0 ? plural(standIns, 'file') : ''),
      sort: ({ standIns }) => standIns,
    },
  ];
}
