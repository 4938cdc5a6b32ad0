import { Switch } from '@mantine/core';
import { type ComponentProps, Suspense, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Step } from '#core/geometry/reduce/choices';
import type { FoundWithin } from '#core/jobs/lite/budget';
import { LiteChoices } from '#core/jobs/lite/choices';
import type { LiteComponent, LitePreview } from '#core/jobs/lite/view';
import type { WholeView } from '#server/views/operations/whole-view';
import { useLitFaces } from '../../stage/useLitFaces';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { later } from '../../ui/later';
import { toggledKey } from '../../ui/ledger/toggled-key';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationPage } from '../../ui/operation/OperationPage';
import { SegmentedControl } from '../../ui/options';
import { NothingToGive, WholeHead } from '../../ui/project/WholeHead';
import { announce } from '../../ui/voice';
import { FiguresStrip } from '../giving/FiguresStrip';
import giving from '../giving/giving.module.css';
import { toggledFace } from '../giving/kept-faces';
import { PresetPicker } from '../giving/PresetPicker';
import { TwinStages } from '../giving/TwinStages';
import { useGiving } from '../giving/useGiving';
import { BudgetField } from './BudgetField';
import { ComponentsTab } from './ComponentsTab';
import { byHand, byPreset, firstChoices } from './choices';
import { figuresOf } from './figures';
import { KeptFaces } from './KeptFaces';
import classes from './Lite.module.css';
import { litFaces, NO_FACES } from './lit-faces';
import { ResultChoices } from './ResultChoices';
import { isRemedied, remedied } from './remedies';
import { StepsList } from './StepsList';
import { sceneAfter, sceneBefore } from './scenes';

/** Nobody needs it before there is something to report. */
const ReportList = later(async () => (await import('./ReportList')).ReportList);

const TABS = [
  { value: 'steps', label: 'Steps' },
  { value: 'components', label: 'Components' },
  { value: 'faces', label: 'Faces that stay' },
  { value: 'report', label: 'Report' },
];

/** An assembly made lighter: what can be taken away, before and after side by side, and the report. */
export function LiteScreen({ root, roots, scene, trouble, before: madeBefore, presets }: WholeView) {
  const measures = useMeasures();
  const [view, change] = useView();
  const { projectId, choices, setChoices, set, making, preview, forget, isDone } = useGiving<
    LiteChoices,
    LitePreview
  >('lite', { root, trouble }, LiteChoices, firstChoices);
  const tab = TABS.some(({ value }) => value === view.get('tab')) ? view.get('tab')! : 'steps';
  const [open, setOpen] = useState<Step | null>('size');
  const [keys, setKeys] = useState<string[]>([]);
  const [found, setFound] = useState<FoundWithin | null>(null);
  // What was found becomes the choices of the page, to be changed.
  const newlyFound = choices.budget === null || making.isStale ? null : (preview?.found ?? null);
  useEffect(() => {
    if (!newlyFound) return;
    setFound(newlyFound);
    setChoices(newlyFound.choices);
    announce(newlyFound.isReached ? 'Choices were found' : 'No choices reach it');
  }, [newlyFound, setChoices]);

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
    else setKeys(isAdded ? toggledKey(keys, component.key) : [component.key]);
  };

  return (
    <OperationPage
      operation={making}
      before={madeBefore}
      width="least"
      choices={
        <>
          <WholeHead title="Lite model" label="What is made lighter" root={root} roots={roots} />
          <PresetPicker
            operation="lite"
            presets={presets}
            choices={{ ...choices, file: root }}
            onTake={(preset) => setChoices(byPreset(choices, preset))}
            disabled={isDone}
          />
          <SegmentedControl
            className={classes.tabs}
            aria-label="What is shown"
            data={TABS}
            value={tab}
            onChange={(value) => change({ tab: value === 'steps' ? null : value })}
          />
          {tab === 'steps' && (
            <div className={giving.scroll}>
              <BudgetField
                found={found}
                isLooking={choices.budget !== null && making.isStale}
                onFind={(budget) => {
                  setFound(null);
                  set({ budget });
                }}
                disabled={isDone}
              />
              <StepsList
                choices={choices}
                onChange={setChoices}
                preview={preview}
                open={open}
                onOpen={setOpen}
                disabled={isDone}
              />
              <ResultChoices choices={choices} onChange={set} file={preview?.file} disabled={isDone} />
            </div>
          )}
          {tab === 'components' && (
            <ComponentsTab
              components={components}
              keys={keys}
              onSelect={setKeys}
              onWish={(wish) => setChoices(byHand(choices, keys, wish))}
              disabled={isDone}
              empty={making.isStale ? 'Looking at what is there…' : 'No components.'}
            />
          )}
          {tab === 'faces' && (
            <div className={giving.scroll}>
              <Switch
                className={classes.keepMounting}
                label="Keep what it is probably mounted by"
                description="Patterns of holes and ends of shafts that are reached from outside, besides the faces below."
                checked={choices.keepMounting}
                disabled={isDone}
                onChange={(event) => set({ keepMounting: event.currentTarget.checked })}
              />
              <KeptFaces
                kept={choices.keepFaces}
                preview={preview}
                disabled={isDone}
                onToggle={(face) => set({ keepFaces: toggledFace(choices.keepFaces, face) })}
                onName={(face, name) =>
                  set({
                    keepFaces: choices.keepFaces.map((kept) => (kept === face ? { ...kept, name } : kept)),
                  })
                }
              />
            </div>
          )}
          {tab === 'report' && (
            <div className={giving.scroll}>
              {preview ? (
                <Suspense fallback={<p className="muted">Reading the report…</p>}>
                  <ReportList
                    report={preview.report}
                    odd={preview.odd}
                    disabled={isDone}
                    isChosen={(remedy) => isRemedied(choices, remedy)}
                    onRemedy={(remedy) => setChoices(remedied(choices, remedy))}
                  />
                </Suspense>
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
          {preview && <FiguresStrip label="Before and after" figures={figuresOf(preview, measures)} />}
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

const NO_COMPONENTS: LiteComponent[] = [];
