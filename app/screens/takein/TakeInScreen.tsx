import { Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { someOf } from '#core/command/words';
import type { TakeInPreview } from '#core/jobs/takein/operation';
import type { LinkedComponent, TakeInView } from '#server/views/operations/take-in-view';
import { useView } from '../../ui/address/useView';
import { count, plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { Bytes } from '../../ui/measures/Figures';
import { useOperation } from '../../ui/operation/useOperation';
import { PathText } from '../../ui/PathText';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import classes from './TakeIn.module.css';

/** Files of components become part of the file of their assembly: which, how deep, and what becomes of the files. */
export function TakeInScreen({ components: offers, ...view }: TakeInView) {
  const [address] = useView();
  // What has been taken in is no file any more: the page stays with what was done.
  const [file] = useState(view.file);
  const [components] = useState(offers);
  const [wanted, setWanted] = useState<readonly string[]>(() => asked(address.get('components'), components));
  const [isDeep, setDeep] = useState(false);
  const [dropUnused, setDropUnused] = useState(false);
  const taking = useOperation<TakeInPreview>(
    'take-in',
    file === null || wanted.length === 0 ? null : { file, components: wanted, deep: isDeep, dropUnused },
  );
  const { planned, isDone } = taking;
  const columns = useMemo(() => columnsOf(planned?.preview ?? null), [planned]);
  if (file === null)
    return (
      <NothingToDo title="Nothing to take in">
        No assembly of this project refers to files of components that are there.
      </NothingToDo>
    );
  const unused = planned?.preview.unused.length ?? 0;
  return (
    <AssemblingPage
      operation={taking}
      title="Take components in"
      fileLabel="Into the assembly"
      view={{ ...view, file }}
      isFileFixed={isDone}
      fields={
        <div className={classes.switches}>
          <Checkbox
            label="Also what their files refer to, to any depth"
            checked={isDeep}
            disabled={isDone}
            onChange={({ currentTarget: { checked } }) => setDeep(checked)}
          />
          <Checkbox
            label={
              unused > 0
                ? `Delete ${plural(unused, 'file')} that nothing uses any more`
                : 'Delete files that nothing uses any more'
            }
            checked={dropUnused}
            disabled={isDone}
            onChange={({ currentTarget: { checked } }) => setDropUnused(checked)}
          />
        </div>
      }
      table={{
        label: 'Files of components',
        columns,
        rows: components,
        keyOf: ({ path }) => path,
        dimmed: ({ why }) => why !== null,
        empty: `${file} refers to no components: all of them lie in it already.`,
      }}
      chosen={wanted}
      onChoose={setWanted}
      empty="Choose the components whose files become part of the assembly, in the table or on the model. Ctrl and Shift choose several, Ctrl+A all."
      label={(plan) => (plan ? `Take ${plural(plan.preview.taken.length, 'file')} in` : 'Take in')}
      doing="Taking in"
      lines={({ preview }) => linesOf(preview, file, dropUnused)}
    />
  );
}

function linesOf({ taken, unused, used }: TakeInPreview, file: string, dropUnused: boolean): string[] {
  return [
    `${plural(taken.length, 'file becomes', 'files become')} part of ${file}; nothing moves.`,
    ...(unused.length > 0
      ? [
          `Nothing uses ${unused.length === 1 ? 'this file' : `these ${unused.length} files`} any more, ${dropUnused ? 'and they are deleted' : 'which stay as they are'}: ${someOf(unused, 8)}`,
        ]
      : []),
    ...used
      .slice(0, 8)
      .map(
        ({ path, by }) =>
          `${path} stays: ${someOf(by, 3)} ${by.length === 1 ? 'uses' : 'use'} it. What changes there no longer shows in ${file}.`,
      ),
    ...(used.length > 8 ? [`${used.length - 8} more stay, since others use them.`] : []),
  ];
}

/** Components that somebody comes with, by their paths; all that can be taken in where nobody says which. */
function asked(text: string | null, components: readonly LinkedComponent[]): string[] {
  const can = components.filter(({ why }) => why === null).map(({ path }) => path);
  // The first one stands last: it is the one that the table has in view.
  if (text === null) return [...can.slice(1), ...can.slice(0, 1)];
  const wanted = new Set(text.split(' ').map(decodeURIComponent));
  return components.flatMap(({ path }) => (wanted.has(path) ? [path] : []));
}

function columnsOf(preview: TakeInPreview | null): LedgerColumn<LinkedComponent>[] {
  const taken = new Set(preview?.taken.map(({ path }) => path));
  const users = new Map(preview?.used.map(({ path, by }) => [path, by]));
  const becomes = ({ path, why }: LinkedComponent) => {
    if (why !== null) return `Stays: ${why}`;
    if (!taken.has(path)) return null;
    const by = users.get(path);
    return by ? `${plural(by.length, 'other uses', 'others use')} it` : 'Unused';
  };
  return [
    {
      key: 'name',
      title: 'Component',
      width: 'minmax(120px, 1fr)',
      cell: ({ name }) => name,
      sort: ({ name }) => name,
    },
    {
      key: 'file',
      title: 'File',
      width: 'minmax(150px, 1.3fr)',
      cell: ({ path }) => <PathText path={path} />,
      sort: ({ path }) => path,
    },
    {
      key: 'placings',
      title: 'Placed',
      width: '58px',
      numeric: true,
      cell: ({ placings }) => count(placings),
      sort: ({ placings }) => placings,
    },
    {
      key: 'below',
      title: 'Refers to',
      width: '76px',
      cell: ({ below }) => (below > 0 ? plural(below, 'file') : ''),
      sort: ({ below }) => below,
    },
    {
      key: 'bytes',
      title: 'Size',
      width: '72px',
      numeric: true,
      cell: ({ bytes }) => <Bytes of={bytes} />,
      sort: ({ bytes }) => bytes,
    },
    {
      key: 'becomes',
      title: 'Its file then',
      width: 'minmax(120px, 1fr)',
      cell: becomes,
      text: becomes,
    },
  ];
}
