import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import type { BillRow } from '#core/jobs/bom/bill';
import { BILL_FORMS, type BillForm } from '#core/jobs/bom/bill-form';
import type { GivenMaterial } from '#core/jobs/bom/material-operation';
import type { Bill } from '#core/jobs/bom/report';
import type { LookedAt } from '#core/report';
import type { BillView } from '#server/views/operations/bill-view';
import { useTyped, useView } from '../../ui/address/useView';
import bar from '../../ui/Bar.module.css';
import { plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { filterFor } from '../../ui/ledger/filter-rows';
import { Ledger } from '../../ui/ledger/Ledger';
import { toggledKey } from '../../ui/ledger/toggled-key';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl, Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { saveFile } from '../../ui/save-file';
import { TaskBar } from '../../ui/task/TaskBar';
import { useAnswer } from '../../ui/task/useAnswer';
import { useLookAgain } from '../../ui/task/useLookAgain';
import { ChangeItems, type PlacedRow } from '../assembling/ChangeItems';
import classes from './Bill.module.css';
import { type BillLine, GROUPINGS, type Grouping, linesOf, openLines } from './bill-lines';
import { columnsOf } from './columns';
import { Differences } from './Differences';
import { MaterialFields, type TypedMaterial } from './MaterialFields';

const FORMS: { readonly [form in BillForm]: string } = {
  indented: 'Level by level',
  flat: 'Every component',
  parts: 'Every part',
};
const GROUPS: { readonly [grouping in Grouping]: string } = {
  none: 'Not grouped',
  material: 'By material',
  use: 'By made or bought',
  folder: 'By folder',
};
const NO_MATERIAL: TypedMaterial = { name: '', density: null };

/** What an assembly is made of: to be ordered, weighed, compared; and what its parts are made of, to be set. */
export function BillScreen({ file, files, moments }: BillView) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const [typed, setTyped] = useTyped('q');
  const measures = useMeasures();
  const form = BILL_FORMS.find((one) => one === view.get('form')) ?? 'indented';
  const grouping =
    form === 'indented' ? 'none' : (GROUPINGS.find((one) => one === view.get('group')) ?? 'none');
  const older = view.get('with');
  const looking = useAnswer<LookedAt<Bill>>(
    'look',
    file === null ? null : { report: 'bom', choices: { file, form, with: older } },
  );
  useLookAgain(looking, (looking.found?.data.waiting ?? 0) > 0);
  const [keys, setKeys] = useState<string[]>([]);
  const [closed, setClosed] = useState<readonly string[]>([]);
  const [material, setMaterial] = useState<TypedMaterial>(NO_MATERIAL);
  const { found } = looking;
  const bill = found?.data ?? null;
  const lines = useMemo(() => {
    const fits = filterFor<BillRow>(typed, {
      texts: ({ name, id, file: path, material: of, use, properties }) => [
        name,
        id,
        path,
        of ?? 'none',
        use ?? '',
        ...properties.map(({ value }) => String(value)),
      ],
    });
    return linesOf(bill?.rows ?? [], form === 'indented', grouping, fits);
  }, [bill, form, grouping, typed]);
  const shown = useMemo(() => openLines(lines, new Set(closed)), [lines, closed]);
  const columns = useMemo(
    () => columnsOf(bill?.rows ?? [], file, form === 'indented', measures),
    [bill, file, form, measures],
  );
  const parts = partsOf(lines, keys);
  const isWanted = mayEdit && parts.length > 0 && material.name.trim() !== '';
  const setting = useOperation<{ parts: GivenMaterial[] }>(
    'material',
    isWanted ? { parts, material: material.name.trim(), density: material.density } : null,
  );
  if (file === null)
    return (
      <div className={layout.blank}>
        <h1>Nothing to list yet</h1>
        <p className="muted">Import an assembly first: its bill of materials is made from it.</p>
      </div>
    );
  return (
    <OperationPage
      operation={setting}
      choices={
        <>
          <PageTitle>Bill of materials</PageTitle>
          <div className={bar.bar}>
            <h1 className={bar.title}>Bill of materials</h1>
            <Select
              aria-label="Assembly"
              className={classes.file}
              data={files}
              value={file}
              searchable
              limit={200}
              size="xs"
              nothingFoundMessage="No file of that name"
              onChange={(path) => change({ file: path })}
            />
            <SegmentedControl
              size="xs"
              aria-label="How it is laid out"
              data={BILL_FORMS.map((value) => ({ value, label: FORMS[value] }))}
              value={form}
              onChange={(value) => change({ form: value === 'indented' ? null : value, group: null })}
            />
            {form !== 'indented' && (
              <Select
                aria-label="Put together"
                className={classes.group}
                size="xs"
                data={GROUPINGS.map((value) => ({ value, label: GROUPS[value] }))}
                value={grouping}
                allowDeselect={false}
                onChange={(value) => change({ group: value === 'none' ? null : value })}
              />
            )}
            <Select
              aria-label="Compare with an older moment"
              className={classes.moment}
              size="xs"
              placeholder="Compare with…"
              clearable
              searchable
              data={moments.map(({ id, summary, time }) => ({
                value: id,
                label: `Before “${summary}”, ${measures.time(time)}`,
              }))}
              value={older}
              onChange={(id) => change({ with: id })}
            />
            <FilterInput value={typed} onChange={setTyped} words={['none', 'made', 'bought', 'standard']} />
            {found && (
              <Button variant="default" size="xs" onClick={() => void saveWorkbook(file, found)}>
                As XLSX
              </Button>
            )}
          </div>
          <p className={classes.summary} role="status">
            {looking.refusal ?? found?.summary ?? 'Counting…'}
            {bill?.notes.map((note) => (
              <span key={note} className={classes.note}>
                {note}
              </span>
            ))}
          </p>
          {looking.progress && !found && (
            <TaskBar progress={looking.progress} label="Measuring" onCancel={looking.stop} />
          )}
          {bill?.differences && <Differences differences={bill.differences} />}
          <div className={layout.table} data-stale={looking.isStale || undefined}>
            <Ledger
              label="Bill of materials"
              columns={columns}
              rows={shown}
              keyOf={({ key }) => key}
              selected={keys.at(-1) ?? null}
              onSelect={({ key }) => setKeys([key])}
              several={{ keys, onSelect: setKeys }}
              dimmed={({ row }) => row?.use === 'reference'}
              tree={{
                depth: ({ depth }) => depth,
                open: ({ key, inner }) => (inner > 0 ? !closed.includes(key) : null),
                onToggle: ({ key }) => setClosed(toggledKey(closed, key)),
              }}
              menu={(lines) => {
                const rows = lines.flatMap(({ row }) => row ?? []);
                return (
                  <>
                    <PathItems path={rows[0]?.isMissing ? null : rows[0]?.file} />
                    <ChangeItems rows={rows.map(placedRow)} top={file} isOfAllPlaces={form !== 'indented'} />
                  </>
                );
              }}
              isMain
              empty={found ? (typed === '' ? 'It places nothing.' : 'Nothing fits the filter.') : ''}
            />
          </div>
        </>
      }
      empty={
        parts.length === 0
          ? 'Choose parts to set what they are made of; Ctrl and Shift choose several.'
          : 'Choose a material for them.'
      }
      lines={(planned) =>
        planned.preview.parts.length === 0
          ? []
          : [
              `${planned.summary}: ${plural(planned.files.length, 'file')} written anew, nothing else in them changes.`,
            ]
      }
      label={() => 'Set the material'}
      doing="Writing"
    >
      <MaterialFields parts={parts.length} value={material} onChange={setMaterial} />
    </OperationPage>
  );
}

/** A row of the bill with what places it. */
function placedRow({ isMissing, isAssembly, ...row }: BillRow): PlacedRow {
  return { ...row, isBroken: isMissing, components: isAssembly ? 1 : 0 };
}

/** The parts of lines that are chosen, each once; what is in a group that is chosen, too. */
function partsOf(lines: readonly BillLine[], keys: readonly string[]): { file: string; product: string }[] {
  const chosen = new Set(keys);
  const found = new Map<string, { file: string; product: string }>();
  let isInGroup = false;
  for (const { key, row } of lines) {
    if (!row) isInGroup = chosen.has(key);
    if (!row || row.isMissing || row.isAssembly || !(isInGroup || chosen.has(key))) continue;
    const product = row.id || row.name;
    found.set(JSON.stringify([row.file, product]), { file: row.file, product });
  }
  return [...found.values()];
}

async function saveWorkbook(file: string, { tables }: LookedAt<Bill>): Promise<void> {
  const { workbookOf } = await import('#core/command/workbook');
  const name = file
    .split('/')
    .at(-1)!
    .replace(/\.[^.]*$/, '');
  saveFile(`${name} bill of materials.xlsx`, await workbookOf(tables));
}
