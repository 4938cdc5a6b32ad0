import { Button, SegmentedControl, Switch } from '@mantine/core';
import { type ComponentProps, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { KeptFace, Step } from '#core/geometry/reduce/choices';
import { LiteChoices } from '#core/jobs/lite/choices';
import type { LiteComponent, LitePreview } from '#core/jobs/lite/view';
import type { WholeView } from '#server/views/operations/whole-view';
import { useLitFaces } from '../../stage/useLitFaces';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { bytes, count } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { NothingToGive, WholeHead } from '../../ui/project/WholeHead';
import { type Figure, FiguresStrip } from '../giving/FiguresStrip';
import giving from '../giving/giving.module.css';
import { toggledFace } from '../giving/kept-faces';
import { NameField } from '../giving/NameField';
import { OneOf } from '../giving/OneOf';
import { TwinStages } from '../giving/TwinStages';
import { useGiving } from '../giving/useGiving';
import { byHand, firstChoices, forgetting } from './choices';
import { KeptFaces } from './KeptFaces';
import classes from './Lite.module.css';
import { ReportList } from './ReportList';
import { StepsList } from './StepsList';
import { sceneAfter, sceneBefore } from './scenes';
import { REACH_WORDS, REASON_WORDS } from './words';

const TABS = [
  { value: 'steps', label: 'Steps' },
  { value: 'components', label: 'Components' },
  { value: 'faces', label: 'Faces that stay' },
  { value: 'report', label: 'Report' },
];

const WISHES = [
  { wish: 'leave out', words: 'Leave out' },
  { wish: 'keep', words: 'Keep in any case' },
  { wish: 'as the steps say', words: 'As the steps say' },
] as const;

const COLUMNS: LedgerColumn<LiteComponent>[] = [
  {
    key: 'name',
    title: 'Component',
    width: 'minmax(120px, 1.4fr)',
    cell: ({ name, key }) => <span title={key}>{name}</span>,
    sort: ({ name }) => name,
  },
  {
    key: 'percent',
    title: 'Size',
    width: '62px',
    numeric: true,
    cell: ({ percent }) => `${percent.toFixed(1)} %`,
    sort: ({ percent }) => percent,
  },
  {
    key: 'faces',
    title: 'Faces',
    width: '58px',
    numeric: true,
    cell: ({ faces }) => count(faces),
    sort: ({ faces }) => faces,
  },
  {
    key: 'reach',
    title: 'From outside',
    width: 'minmax(90px, 1fr)',
    cell: ({ reach, share, from }) => (
      <span title={from ? `Seen most from: ${from}` : undefined}>
        {REACH_WORDS[reach]}
        {reach === 'seen' && ` ${(100 * share).toFixed(2)} %`}
      </span>
    ),
    sort: ({ reach, share }) => `${reach} ${(1 - share).toFixed(6)}`,
  },
  {
    key: 'fate',
    title: 'Becomes',
    width: 'minmax(84px, 1fr)',
    cell: ({ reason, isProtected }) =>
      reason ? (
        <span className={classes.goes}>goes: {REASON_WORDS[reason]}</span>
      ) : isProtected ? (
        'kept'
      ) : (
        'stays'
      ),
    sort: ({ reason }) => reason ?? '',
  },
];

/** An assembly made lighter: what can be taken away, before and after side by side, and the report. */
export function LiteScreen({ root, roots, scene, trouble }: WholeView) {
  const [view, change] = useView();
  const { projectId, choices, setChoices, set, making, preview, forget, isDone } = useGiving<
    LiteChoices,
    LitePreview
  >('lite', { root, trouble }, LiteChoices, firstChoices);
  const tab = TABS.some(({ value }) => value === view.get('tab')) ? view.get('tab')! : 'steps';
  const [open, setOpen] = useState<Step | null>('size');
  const [keys, setKeys] = useState<string[]>([]);

  const before = useMemo(() => sceneBefore(scene, preview), [scene, preview]);
  const after = useMemo(() => sceneAfter(scene, preview), [scene, preview]);
  const lit = useMemo(() => litFaces(choices.keepFaces, preview), [choices.keepFaces, preview]);
  const toolBefore = useLitFaces(lit);
  const toolAfter = useLitFaces(tab === 'faces' ? lit : NO_FACES);
  const components = preview?.components ?? NO_COMPONENTS;
  const selected = useMemo(() => {
    const wanted = new Set(keys);
    return new Set(components.flatMap(({ key, rows }) => (wanted.has(key) ? rows : [])));
  }, [components, keys]);

  if (root === null)
    return (
      <NothingToGive title="Nothing to make lighter yet" words="Then this page makes a light model of it." />
    );

  const pick = (
    picked: Parameters<NonNullable<ComponentProps<typeof TwinStages>['onPick']>>[0],
    isAdded: boolean,
  ) => {
    if (!preview) return;
    if (tab === 'faces') {
      if (!picked || !('face' in picked) || isDone) return;
      const at = preview.facesOf[picked.row]!;
      const found = preview.faces[at];
      const id = found?.ids[picked.face];
      if (found && id !== undefined)
        set({
          keepFaces: toggledFace(choices.keepFaces, { file: found.file, face: id, name: '', trace: null }),
        });
      return;
    }
    const component = picked && components.find(({ rows }) => rows.includes(picked.row));
    if (!component) setKeys([]);
    else if (isAdded)
      setKeys(
        keys.includes(component.key) ? keys.filter((key) => key !== component.key) : [...keys, component.key],
      );
    else setKeys([component.key]);
  };

  return (
    <OperationPage
      operation={making}
      width="least"
      choices={
        <>
          <WholeHead title="Lite model" label="What is made lighter" root={root} roots={roots} />
          <SegmentedControl
            className={classes.tabs}
            aria-label="What is shown"
            data={TABS}
            value={tab}
            onChange={(value) => change({ tab: value === 'steps' ? null : value })}
          />
          {tab === 'steps' && (
            <div className={giving.scroll}>
              <StepsList
                choices={choices}
                onChange={setChoices}
                preview={preview}
                open={open}
                onOpen={setOpen}
                disabled={isDone}
              />
              <div className={giving.result}>
                <h2>Result</h2>
                <NameField
                  pattern={choices.pattern}
                  file={preview?.file}
                  onChange={(pattern) => set({ pattern })}
                  disabled={isDone}
                />
                <OneOf
                  label="It is"
                  value={choices.form}
                  choices={{ assembly: 'an assembly of the parts that are left', part: 'one part' }}
                  onChange={(form) => set({ form })}
                  disabled={isDone}
                />
                <Switch
                  label="For outside: it remembers nothing"
                  description="No tie to the original, no recipe, nothing that tells of the inside."
                  checked={choices.outside}
                  onChange={(event) => set({ outside: event.currentTarget.checked })}
                  disabled={isDone}
                />
              </div>
            </div>
          )}
          {tab === 'components' && (
            <>
              <div className={classes.tools} role="toolbar" aria-label="Selected components">
                {WISHES.map(({ wish, words }) => (
                  <Button
                    key={wish}
                    variant="default"
                    size="compact-sm"
                    disabled={keys.length === 0 || isDone}
                    onClick={() => setChoices(byHand(choices, keys, wish))}
                  >
                    {words}
                  </Button>
                ))}
              </div>
              <div className={layout.table}>
                <Ledger
                  label="Components"
                  columns={COLUMNS}
                  rows={components}
                  keyOf={({ key }) => key}
                  selected={keys.at(-1) ?? null}
                  onSelect={({ key }) => setKeys([key])}
                  several={{ keys, onSelect: setKeys }}
                  dimmed={({ reason }) => reason !== null}
                  isMain
                  empty={making.isStale ? 'Looking at what is there…' : 'No components.'}
                />
              </div>
            </>
          )}
          {tab === 'faces' && (
            <div className={giving.scroll}>
              <KeptFaces
                kept={choices.keepFaces}
                preview={preview}
                disabled={isDone}
                onToggle={(face) => set({ keepFaces: toggledFace(choices.keepFaces, face) })}
                onName={(face, name) =>
                  set({
                    keepFaces: choices.keepFaces.map((one) => (one === face ? { ...one, name } : one)),
                  })
                }
              />
            </div>
          )}
          {tab === 'report' && (
            <div className={giving.scroll}>
              {preview ? (
                <ReportList
                  report={preview.report}
                  odd={preview.odd}
                  disabled={isDone}
                  onRemedy={(remedy) =>
                    remedy === 'outside' ? set({ outside: true }) : setChoices(forgetting(choices, remedy))
                  }
                />
              ) : (
                <p className="muted">The report comes with the plan.</p>
              )}
            </div>
          )}
        </>
      }
      stage={
        <TwinStages
          sceneKey={root}
          before={{ title: 'Before', scene: before, tool: toolBefore }}
          after={{ title: 'After', scene: after, tool: toolAfter }}
          isStale={making.isStale}
          selected={selected}
          onPick={pick}
        >
          {preview && <FiguresStrip label="Before and after" figures={figuresOf(preview)} />}
        </TwinStages>
      }
      warnings={trouble ? [trouble] : []}
      onApplied={forget}
      empty={trouble ?? 'Nothing yet.'}
      label={() => 'Make the lite model'}
      doing="Making the lite model"
      done={() =>
        preview && <Link to={addressIn(projectId, 'structure', { root: preview.file })}>Open it</Link>
      }
    />
  );
}

const NO_FACES: { row: number; face: number }[] = [];
const NO_COMPONENTS: LiteComponent[] = [];

/** Kept faces on the stage, at every place of their bodies. */
function litFaces(kept: readonly KeptFace[], preview: LitePreview | null): { row: number; face: number }[] {
  if (!preview || kept.length === 0) return NO_FACES;
  return preview.facesOf.flatMap((at, row) => {
    const known = preview.faces[at];
    if (!known) return [];
    return kept.flatMap(({ file, face }) => {
      const position = file === known.file ? known.ids.indexOf(face) : -1;
      return position < 0 ? [] : [{ row, face: position }];
    });
  });
}

function figuresOf({ report: { before, after } }: LitePreview): Figure[] {
  const figure = (what: string, key: keyof typeof before, inWords = count): Figure => ({
    what,
    from: inWords(before[key]),
    to: inWords(after[key]),
    left: after[key] / before[key],
  });
  return [
    figure('components', 'occurrences'),
    figure('bodies', 'bodies'),
    figure('faces', 'faces'),
    figure('triangles', 'triangles'),
    figure('file size', 'bytes', bytes),
  ];
}
