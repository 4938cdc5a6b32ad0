import { Button, Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { folderOf } from '#core/files/links/paths';
import { groupBy } from '#core/multimap';
import type { RepairRow, RepairTable } from '#server/views/operations/repair-table';
import { useTyped, useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { filterFor } from '../../ui/ledger/filter-rows';
import { Ledger } from '../../ui/ledger/Ledger';
import { MovedFolder } from './MovedFolder';
import classes from './Repair.module.css';
import { columnsFor, nameOf } from './together-columns';
import type { useTicks } from './useTicks';

interface TogetherProps {
  table: RepairTable;
  ticks: ReturnType<typeof useTicks>;
  /** Key of the link that is looked at. */
  current: string;
  onSelect: (key: string) => void;
}

/** All broken links in one table, ticked where they are clear; what explains several of them stands above it. */
export function Together({ table, ticks, current, onSelect }: TogetherProps) {
  const { rows, groups, moved } = table;
  const { ticked, isTicked, targetOf, tick } = ticks;
  const [, change] = useView();
  const [query, setQuery] = useTyped('q');
  const [isFolderOpen, openFolder] = useState(moved !== null);
  const columns = useMemo(() => columnsFor({ isTicked, targetOf, tick }), [isTicked, targetOf, tick]);
  const shown = useMemo(() => {
    const fits = filterFor(query, {
      texts: (row: RepairRow) => [nameOf(row), row.written, row.holder, targetOf(row) ?? '', row.why],
      words: {
        ticked: isTicked,
        open: (row) => !isTicked(row),
        missing: ({ state }) => state === 'missing',
        ambiguous: ({ state }) => state === 'ambiguous',
      },
    });
    return fits ? rows.filter(fits) : rows;
  }, [rows, query, targetOf, isTicked]);
  const clear = rows.filter(({ isClear }) => isClear);
  const ofGroup = useMemo(() => groupBy(rows, ({ group }) => group), [rows]);
  return (
    <>
      <div className={classes.groups} role="group" aria-label="What belongs together">
        <TickAll
          words={`All ${plural(clear.length, 'link')} that ${clear.length === 1 ? 'is' : 'are'} clear`}
          rows={clear}
          ticks={ticks}
        />
        {groups.map(({ words }, n) => {
          const own = ofGroup.get(n)!;
          return (
            <TickAll
              key={own[0]!.key}
              words={`${plural(own.length, 'link')} ${words}`}
              rows={own}
              ticks={ticks}
            />
          );
        })}
      </div>
      {isFolderOpen && (
        <MovedFolder
          moved={moved}
          asked={groups.flatMap(({ moved: folder }) => (folder ? [folder.from] : []))}
          present={rows.flatMap(({ target }) => (target ? folderOf(target) || [] : []))}
          onSay={(folder) => {
            change({ from: folder ? folder.from || '/' : null, to: folder ? folder.to || '/' : null });
            if (!folder) openFolder(false);
          }}
        />
      )}
      <div className={classes.tableBar}>
        <span className="muted">
          {ticked.length} of {plural(rows.length, 'link')} ticked
        </span>
        {!isFolderOpen && (
          <Button variant="subtle" size="compact-sm" onClick={() => openFolder(true)}>
            A folder has moved…
          </Button>
        )}
        <FilterInput value={query} onChange={setQuery} words={['ticked', 'open', 'missing', 'ambiguous']} />
      </div>
      <div className={classes.table}>
        <Ledger
          label="All broken links"
          isMain
          columns={columns}
          rows={shown}
          keyOf={({ key }) => key}
          selected={current}
          onSelect={({ key }) => onSelect(key)}
          keys={{ ' ': (row) => tick([row], !isTicked(row)) }}
          empty="No broken link fits what was typed."
        />
      </div>
    </>
  );
}

/** One tick for several links. */
function TickAll({
  words,
  rows,
  ticks,
}: {
  words: string;
  rows: readonly RepairRow[];
  ticks: TogetherProps['ticks'];
}) {
  const usable = rows.filter((row) => ticks.targetOf(row) !== null);
  const on = usable.filter(ticks.isTicked).length;
  return (
    <Checkbox
      label={words}
      checked={on > 0 && on === usable.length}
      indeterminate={on > 0 && on < usable.length}
      disabled={usable.length === 0}
      onChange={() => ticks.tick(usable, on < usable.length)}
    />
  );
}
