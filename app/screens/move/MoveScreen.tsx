import { Button, Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import { keepFolders } from '#core/jobs/move/keep-folders';
import type { PlannedMove } from '#core/jobs/move/plan';
import { isPattern, type NamePattern, NO_PATTERN } from '#core/name-pattern';
import { readPaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger } from '../../ui/ledger/Ledger';
import { ChosenFilesPage } from '../../ui/operation/ChosenFilesPage';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import { PatternFields } from '../../ui/project/PatternFields';
import type { ProjectContext } from '../../ui/project/project-context';
import { isRecordOf, readerOf } from '../../ui/reader';
import { useKept } from '../../ui/useKept';
import { columnsFor } from './columns';
import { DRAGGED } from './dragged';
import { FolderList } from './FolderList';
import { movesOf } from './moves';

interface MoveScreenProps {
  /** Every file of the project. */
  paths: string[];
}

/** What somebody wants of the chosen paths. */
interface Wanted {
  typed: { [from: string]: string };
  pattern: NamePattern;
  folder: string | null;
}

const WANTED = readerOf((kept): kept is Wanted => {
  const { typed, pattern, folder } = Object(kept) as Partial<Wanted>;
  const parts = Object.keys(NO_PATTERN).map((part) => Object(pattern)[part]);
  return (
    isRecordOf('string', typed) &&
    parts.every((part) => typeof part === 'string') &&
    (folder === null || typeof folder === 'string')
  );
});

const NO_MOVES: PlannedMove[] = [];

const NOTHING_WANTED: Wanted = { typed: {}, pattern: NO_PATTERN, folder: null };

/** Files and folders get other names or another place: typed, by a pattern, or dragged into a folder. Every link follows. */
export function MoveScreen({ paths }: MoveScreenProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view] = useView();
  const what = view.get('what');
  const chosen = useMemo(() => [...readPaths(what)], [what]);
  const { state, setState, forget } = useKept(`move ${projectId}`, what ?? '', WANTED, () => NOTHING_WANTED);
  const { typed, pattern, folder } = state;
  const setTyped = (next: Wanted['typed']) => setState((before) => ({ ...before, typed: next }));
  const setPattern = (next: NamePattern) => setState((before) => ({ ...before, pattern: next }));
  const setFolder = (next: string | null) => setState((before) => ({ ...before, folder: next }));
  const [selected, setSelected] = useState<string | null>(null);
  const moves = useMemo(
    () => movesOf(chosen, paths, { typed, pattern, folder }),
    [chosen, paths, typed, pattern, folder],
  );
  const [withoutEnding, setWithoutEnding] = useState(false);
  const moving = useOperation<{ moves: PlannedMove[] }>(
    'move',
    moves.length === 0 ? null : { moves, ...(withoutEnding && { withoutEnding }) },
  );
  const planned = new Map(moving.planned?.preview.moves.map((move) => [move.from, move]));
  const asked = new Map(moves.map(({ from, to }) => [from, to]));
  const rows = chosen.map((from): PlannedMove => {
    const to = asked.get(from) ?? from;
    const known = planned.get(from);
    // What is said of another path than is chosen by now is of no use.
    return known?.to === to ? known : { from, to, problem: null, proposal: null, usedBy: [] };
  });
  const wrong = moving.planned?.preview.moves.filter(({ problem }) => problem !== null) ?? [];

  const columns = columnsFor({
    moves: moving.planned?.preview.moves ?? NO_MOVES,
    disabled: !mayEdit || moving.isDone,
    onPath: (from, to) => setTyped({ ...typed, [from]: to }),
  });
  return (
    <ChosenFilesPage
      operation={moving}
      width="wide"
      title="Rename or move"
      nothingTo={chosen.length === 0 ? 'to rename or move' : null}
      above={
        <>
          <PatternFields
            pattern={pattern}
            onChange={setPattern}
            disabled={!mayEdit}
            onReset={
              Object.keys(typed).length === 0 && !isPattern(pattern) && folder === null
                ? null
                : () => {
                    setState(NOTHING_WANTED);
                    forget();
                  }
            }
          />
          {(withoutEnding || moving.planned?.preview.moves.some(({ dropsEnding }) => dropsEnding)) && (
            <Checkbox
              label="Names without an ending are meant so"
              checked={withoutEnding}
              disabled={!mayEdit || moving.isDone}
              onChange={(event) => setWithoutEnding(event.currentTarget.checked)}
            />
          )}
        </>
      }
      table={
        <Ledger
          label="Files and folders"
          columns={columns}
          rows={rows}
          keyOf={({ from }) => from}
          selected={selected}
          onSelect={({ from }) => setSelected(from)}
          menu={([row]) => <PathItems path={row && paths.includes(row.from) ? row.from : null} />}
          drag={{ kind: DRAGGED, data: ({ from }) => from }}
          empty="Nothing is chosen."
        />
      }
      stage={
        <FolderList
          paths={paths}
          current={folder}
          mayEdit={mayEdit && !moving.isDone}
          onAll={(into) => {
            setFolder(into);
            setTyped({});
          }}
          onOne={(from, into) => {
            const name = (asked.get(from) ?? from).split('/').at(-1)!;
            setTyped({ ...typed, [from]: into === '' ? name : `${into}/${name}` });
          }}
        />
      }
      lines={({ files, rewires }) => {
        const [gone, holders] = [
          files.filter(({ does }) => does === 'moved').length,
          new Set(rewires.map(({ holder }) => holder)).size,
        ];
        return gone === 0
          ? ['Nothing moves yet.']
          : [
              `${plural(gone, 'file gets another path', 'files get other paths')}, and ${gone === 1 ? 'keeps its' : 'keep their'} versions.`,
              rewires.length === 0
                ? 'No link has to be written anew.'
                : `${plural(rewires.length, 'link')} in ${plural(holders, 'file')} will be written anew, so that all of them lead where they led.`,
            ];
      }}
      warnings={wrong
        .slice(0, 3)
        .map(({ to, problem, proposal }) => `${to}: ${problem} ${proposal} would do.`)}
      empty="Type another name, use a pattern, or drag rows into a folder."
      label={(plan) =>
        `${moves.length > 0 && keepFolders(moves) ? 'Rename' : 'Move'} ${plural(plan?.files.filter(({ does }) => does === 'moved').length ?? 0, 'file')}`
      }
      doing={keepFolders(moves) ? 'Renaming' : 'Moving'}
      onApplied={forget}
    >
      {wrong.length > 0 && mayEdit && (
        <Button
          variant="default"
          onClick={() =>
            setTyped({
              ...typed,
              ...Object.fromEntries(
                wrong.flatMap(({ from, proposal }) => (proposal === null ? [] : [[from, proposal]])),
              ),
            })
          }
        >
          Take the proposed paths
        </Button>
      )}
    </ChosenFilesPage>
  );
}
