import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { ByPresetOutline } from '#core/jobs/presets/plan';
import type { PresetsView } from '#server/views/operations/presets-view';
import { addressIn } from '../../ui/address/addresses';
import { readPaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger } from '../../ui/ledger/Ledger';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { useAtOnce } from '../../ui/task/useAtOnce';
import { COLUMNS, type FileToMake } from './columns';
import { PresetList } from './PresetList';
import classes from './Presets.module.css';

/** What is made again and again: presets, the assemblies that one is applied to, and what would come of each. */
export function PresetsScreen({ presets, files }: PresetsView) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view] = useView();
  const keeping = useAtOnce('preset');
  const [name, setName] = useState(() => view.get('preset'));
  const chosen = presets.find((preset) => preset.name === name) ?? presets[0]!;
  const what = view.get('what');
  const [keys, setKeys] = useState<string[]>(() => {
    const wanted = readPaths(what);
    return files.flatMap(({ path }) => (wanted.has(path) ? [path] : []));
  });
  /** What it was last asked for: many assemblies take minutes, so nobody is asked at every click. */
  const [asked, setAsked] = useState<{ preset: string; files: string[] } | null>(null);
  const isAsked = asked !== null && asked.preset === chosen.name && sameMembers(asked.files, keys);
  const making = useOperation<ByPresetOutline>('by-preset', isAsked ? asked : null);
  const made = useMemo(
    () => new Map(making.planned?.preview.files.map((one) => [one.file, one])),
    [making.planned],
  );
  const rows = useMemo(
    () => files.map((file): FileToMake => ({ ...file, made: made.get(file.path) })),
    [files, made],
  );
  const isBusy = making.work.running !== null || keeping.isRunning;
  return (
    <OperationPage
      operation={making}
      choices={
        <div className={classes.columns}>
          <section className={classes.pane} aria-label="Presets">
            <h1 className={layout.heading}>Presets</h1>
            {keeping.trouble && (
              <p role="alert" className={classes.trouble}>
                {keeping.trouble}
              </p>
            )}
            <PresetList
              presets={presets}
              chosen={chosen.name}
              onChoose={setName}
              onTakeOut={mayEdit ? (taken) => void keeping.carryOut({ name: taken }) : null}
              disabled={isBusy}
            />
            <p className={classes.hint}>
              More are kept on the pages of <Link to={addressIn(projectId, 'lite')}>Lite model</Link> and{' '}
              <Link to={addressIn(projectId, 'seal')}>Sealed solid</Link>, with the choices that are made
              there.
            </p>
          </section>
          <section className={classes.pane} aria-label="What it is made of">
            <div className={classes.bar}>
              <span>
                {keys.length === 0
                  ? 'Choose assemblies and parts; Ctrl and Shift choose several.'
                  : `${plural(keys.length, 'file')} chosen`}
              </span>
              <Button
                size="compact-sm"
                variant="default"
                disabled={keys.length === 0 || isBusy || (isAsked && making.refusal === null)}
                onClick={() => setAsked({ preset: chosen.name, files: keys })}
              >
                Show what comes of it
              </Button>
            </div>
            <div className={classes.table}>
              <Ledger
                label="Assemblies and parts"
                columns={COLUMNS}
                rows={rows}
                keyOf={({ path }) => path}
                selected={keys.at(-1) ?? null}
                onSelect={({ path }) => setKeys([path])}
                several={{ keys, onSelect: setKeys }}
                dimmed={({ made: one }) => one !== undefined && one.made === null}
                menu={([row]) => <PathItems path={row?.path} />}
                isMain
                empty="There are no assemblies and no parts."
              />
            </div>
          </section>
        </div>
      }
      empty={
        keys.length === 0
          ? 'Choose what is to be made lighter.'
          : isAsked
            ? ''
            : 'Show what comes of it first: then it can be made.'
      }
      label={(planned) =>
        planned
          ? `Make ${plural(planned.preview.files.filter((one) => one.made !== null).length, 'model')}`
          : 'Make them'
      }
      doing="Making them"
      done={() => <Link to={addressIn(projectId, 'files')}>Open Files</Link>}
    />
  );
}

function sameMembers(a: readonly string[], b: readonly string[]): boolean {
  const members = new Set(a);
  return a.length === b.length && b.every((member) => members.has(member));
}
