import { Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useNavigate, useOutletContext } from 'react-router';
import type { RenamedPart } from '#core/jobs/rename/operation';
import { isPattern, type NamePattern, NO_PATTERN } from '#core/name-pattern';
import type { RenameView } from '#server/views/operations/rename-view';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { useOperation } from '../../ui/operation/useOperation';
import { PatternFields } from '../../ui/project/PatternFields';
import type { ProjectContext } from '../../ui/project/project-context';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import { columnsFor } from './columns';
import { namedAnew, type Typed, toRename } from './names';
import classes from './Rename.module.css';

const NOTHING: readonly RenamedPart[] = [];

/** Parts get other ids and names: typed one by one, or by a pattern those that are chosen. */
export function RenameScreen({ parts, ...view }: RenameView) {
  const { file } = view;
  const { mayEdit, projectId } = useOutletContext<ProjectContext>();
  const navigate = useNavigate();
  const [address] = useView();
  const [chosen, setChosen] = useState<readonly string[]>(
    () => address.get('components')?.split(' ').map(decodeURIComponent) ?? [],
  );
  const [typed, setTyped] = useState<Typed>({});
  const [pattern, setPattern] = useState<NamePattern>(NO_PATTERN);
  const [files, setFiles] = useState(false);
  const rows = useMemo(
    () =>
      namedAnew(parts, {
        chosen: new Set(chosen.length > 0 ? chosen : parts.map(({ key }) => key)),
        typed,
        pattern,
      }),
    [parts, chosen, typed, pattern],
  );
  const wanted = useMemo(() => toRename(rows), [rows]);
  const renaming = useOperation<{ parts: RenamedPart[] }>(
    'rename-parts',
    file === null || wanted.length === 0 ? null : { file, parts: wanted, files },
  );
  const { planned, isDone } = renaming;
  const columns = useMemo(
    () =>
      columnsFor({
        disabled: !mayEdit || isDone,
        planned: planned?.preview.parts ?? NOTHING,
        onType: (key, what, text) =>
          setTyped((before) => ({ ...before, [key]: { ...before[key], [what]: text } })),
      }),
    [mayEdit, isDone, planned],
  );
  if (file === null)
    return <NothingToDo title="Nothing to rename">This project has no assembly.</NothingToDo>;
  const isAsItWas = Object.keys(typed).length === 0 && !isPattern(pattern) && !files;
  return (
    <AssemblingPage
      operation={renaming}
      title="Rename parts"
      fileLabel="Of"
      view={{ ...view, file }}
      isFileFixed={isDone}
      fields={
        <Checkbox
          className={classes.files}
          label="Name their files after them"
          checked={files}
          disabled={!mayEdit || isDone}
          onChange={({ currentTarget: { checked } }) => setFiles(checked)}
        />
      }
      tools={
        <PatternFields
          pattern={pattern}
          onChange={setPattern}
          disabled={!mayEdit || isDone}
          onReset={
            isAsItWas
              ? null
              : () => {
                  setTyped({});
                  setPattern(NO_PATTERN);
                  setFiles(false);
                }
          }
        />
      }
      table={{
        label: 'Parts',
        columns,
        rows,
        keyOf: ({ key }) => key,
        empty: `${file} holds no parts.`,
      }}
      picks="nearest"
      chosen={chosen}
      onChoose={setChosen}
      empty="Type another name or id; or use a pattern, on the parts that are chosen or on all of them. What stands for a part in other files follows."
      label={(plan) => (plan ? `Rename ${plural(plan.preview.parts.length, 'part')}` : 'Rename')}
      doing="Renaming"
      onApplied={({ result }) => {
        // The assembly of this page is under another path now.
        const to = result.preview.parts.find((part) => part.file === file)?.to;
        if (to) navigate(addressIn(projectId, 'structure', { root: to }));
      }}
      lines={({ summary, preview }) => linesOf(summary, preview.parts)}
    />
  );
}

function linesOf(summary: string, parts: readonly RenamedPart[]): string[] {
  const [one] = parts;
  const standIns = parts.reduce((sum, part) => sum + part.standIns, 0);
  const moved = parts.filter(({ to }) => to !== null).length;
  const idOf = ({ id, name }: RenamedPart['now']) => (id === '' || id === name ? name : `${name} (${id})`);
  return [
    parts.length === 1 ? `${idOf(one!.was)} becomes ${idOf(one!.now)}.` : `${summary}.`,
    standIns === 0
      ? 'Nothing in another file stands for it.'
      : `${plural(standIns, 'stand-in')} in other files ${standIns === 1 ? 'follows' : 'follow'}.`,
    ...(moved > 0
      ? [
          `${plural(moved, 'file is', 'files are')} renamed, too; every link to ${moved === 1 ? 'it' : 'them'} follows.`,
        ]
      : []),
  ];
}
