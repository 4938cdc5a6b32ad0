import { Button, Switch } from '@mantine/core';
import { useMemo, useState } from 'react';
import { FINDINGS, type FindingKind, kindOfFinding } from '#core/jobs/advice/finding';
import type { Advice as AdviceData, AdvisedFinding } from '#core/jobs/advice/report';
import type { LookedAt } from '#core/report';
import { useTyped, useView } from '../../ui/address/useView';
import bar from '../../ui/Bar.module.css';
import { PageTitle } from '../../ui/frame/PageTitle';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { filterFor } from '../../ui/ledger/filter-rows';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { toggledKey } from '../../ui/ledger/toggled-key';
import layout from '../../ui/operation/OperationPage.module.css';
import { PathItems } from '../../ui/operation/PathItems';
import { Panes } from '../../ui/Panes';
import { PathText } from '../../ui/PathText';
import { TaskBar } from '../../ui/task/TaskBar';
import { useAnswer } from '../../ui/task/useAnswer';
import { useLookAgain } from '../../ui/task/useLookAgain';
import classes from './Advice.module.css';
import { FindingFacts } from './FindingFacts';

/** A line: the heading of what was found alike, or a finding. */
type AdviceLine =
  | { key: string; kind: FindingKind; count: number; finding?: undefined }
  | { key: string; kind: FindingKind; count?: undefined; finding: AdvisedFinding };

const COLUMNS: LedgerColumn<AdviceLine>[] = [
  {
    key: 'words',
    title: 'Found',
    width: 'minmax(260px, 3fr)',
    cell: ({ kind, count, finding }) =>
      finding ? (
        <span title={finding.words} className={finding.dismissed === null ? undefined : 'muted'}>
          {finding.words}
        </span>
      ) : (
        <span className={classes.heading} data-fault={kindOfFinding(kind).isFault}>
          {kindOfFinding(kind).title} <span className="muted">{count}</span>
        </span>
      ),
    text: ({ kind, finding }) => finding?.words ?? kindOfFinding(kind).title,
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(150px, 1.2fr)',
    cell: ({ finding }) => finding && <PathText path={finding.files[0] ?? ''} />,
    text: ({ finding }) => finding?.files.join(', ') ?? '',
  },
];

/** What is wrong, or could be better, with how the project is put together; each finding with what to do about it. */
export function AdviceScreen({ file }: { file: string | null }) {
  const [view, change] = useView();
  const [typed, setTyped] = useTyped('q');
  const isEverything = view.get('stays') === 'shown';
  const looking = useAnswer<LookedAt<AdviceData>>('look', {
    report: 'advice',
    choices: { file, dismissed: isEverything },
  });
  useLookAgain(looking, (looking.found?.data.waiting ?? 0) > 0);
  const [closed, setClosed] = useState<readonly string[]>([]);
  const [selected, setSelected] = useState<string | null>(null);
  const { found, progress, refusal } = looking;
  const lines = useMemo(() => linesOf(found?.data.findings ?? [], typed), [found, typed]);
  const shown = lines.filter(({ kind, finding }) => !finding || !closed.includes(kind));
  const current = shown.find(({ key }) => key === selected) ?? null;
  return (
    <div className={layout.page}>
      <PageTitle>Advice</PageTitle>
      <div className={bar.bar}>
        <h1 className={bar.title}>Advice</h1>
        {file !== null && (
          <Button variant="default" size="xs" onClick={() => change({ file: null })}>
            About {file.split('/').at(-1)} only: show all
          </Button>
        )}
        <p className={bar.summary} role="status">
          {refusal ?? found?.summary ?? 'Looking…'}
          {found?.data.notes.map((note) => (
            <span key={note} className={classes.note}>
              {note}
            </span>
          ))}
        </p>
        <Switch
          size="xs"
          label="Also what may stay"
          checked={isEverything}
          onChange={(event) => change({ stays: event.currentTarget.checked ? 'shown' : null })}
        />
        <FilterInput value={typed} onChange={setTyped} />
      </div>
      {progress && !found && (
        <div className={classes.waiting}>
          <TaskBar progress={progress} label="Looking" onCancel={looking.stop} />
        </div>
      )}
      <Panes
        name="advice"
        share={64}
        titles={['Findings', 'What to do']}
        left={
          <div className={layout.table} data-stale={looking.isStale || undefined}>
            <Ledger
              label="Findings"
              columns={COLUMNS}
              rows={shown}
              keyOf={({ key }) => key}
              selected={selected}
              onSelect={({ key }) => setSelected(key)}
              dimmed={({ finding }) => finding !== undefined && finding.dismissed !== null}
              tree={{
                depth: ({ finding }) => (finding ? 1 : 0),
                open: ({ finding, kind }) => (finding ? null : !closed.includes(kind)),
                onToggle: ({ kind }) => setClosed(toggledKey(closed, kind)),
              }}
              menu={([line]) => <PathItems path={line?.finding?.files[0]} />}
              empty={
                !found
                  ? ''
                  : typed === ''
                    ? 'Nothing was found: it is put together well.'
                    : 'Nothing fits the filter.'
              }
            />
          </div>
        }
        right={
          <div className={classes.facts}>
            {current ? (
              <FindingFacts key={current.key} kind={current.kind} finding={current.finding ?? null} />
            ) : (
              <p className="muted">Choose a finding: here is why it matters, and what to do about it.</p>
            )}
          </div>
        }
      />
    </div>
  );
}

function linesOf(findings: readonly AdvisedFinding[], typed: string): AdviceLine[] {
  const fits = filterFor<AdvisedFinding>(typed, {
    texts: ({ words, files, kind }) => [words, ...files, kindOfFinding(kind).title],
  });
  return (Object.keys(FINDINGS) as FindingKind[]).flatMap((kind): AdviceLine[] => {
    const members = findings.filter((finding) => finding.kind === kind && (fits?.(finding) ?? true));
    if (members.length === 0) return [];
    return [
      { key: kind, kind, count: members.length },
      ...members.map(
        (finding): AdviceLine => ({
          key: JSON.stringify([kind, finding.files, finding.about]),
          kind,
          finding,
        }),
      ),
    ];
  });
}
