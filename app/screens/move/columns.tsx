import { baseName, extensionOf } from '#core/files/links/paths';
import type { PlannedMove } from '#core/jobs/move/plan';
import { CellField } from '../../ui/fields/CellField';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { PathText } from '../../ui/PathText';

interface ColumnContext {
  /** As they were planned last. */
  moves: readonly PlannedMove[];
  disabled: boolean;
  /** A new path was typed for one of them. */
  onPath: (from: string, to: string) => void;
}

/** The columns of what is moved: the new path is typed in its cell. */
export function columnsFor({ moves, disabled, onPath }: ColumnContext): LedgerColumn<PlannedMove>[] {
  return [
    {
      key: 'from',
      title: 'From',
      width: 'minmax(180px, 1fr)',
      cell: ({ from }) => <PathText path={from} />,
      sort: ({ from }) => from,
    },
    {
      key: 'to',
      title: 'To',
      width: 'minmax(220px, 1.3fr)',
      cell: ({ from, to, problem }) => (
        <CellField
          aria-label={`New path of ${from}`}
          value={to}
          disabled={disabled}
          isChanged={to !== from}
          isCode
          aria-invalid={problem !== null}
          title={problem ?? undefined}
          // The name is what is typed anew, not the folder and not the ending.
          selects={(field) =>
            field.setSelectionRange(field.value.length - baseName(field.value).length, endOfName(field.value))
          }
          onChange={(path) => onPath(from, path)}
        />
      ),
    },
    {
      key: 'users',
      title: 'Used in',
      width: '90px',
      cell: ({ from }) => {
        const users = usersOf(moves, from);
        return users > 0 ? plural(users, 'file') : '';
      },
    },
  ];
}

function endOfName(path: string): number {
  const ending = extensionOf(path);
  return ending === '' ? path.length : path.length - ending.length - 1;
}

/** How many files that stay use a file, or what lies in a folder. */
function usersOf(moves: readonly PlannedMove[], path: string): number {
  const below = moves.filter(({ from }) => from === path || from.startsWith(`${path}/`));
  return new Set(below.flatMap(({ usedBy }) => usedBy)).size;
}
