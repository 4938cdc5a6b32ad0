import { Checkbox, Slider, Stack, Switch, TagsInput, TextInput, UnstyledButton } from '@mantine/core';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { Suspense } from 'react';
import { FORGETTABLE, type Forgettable, STEPS, type Step } from '#core/geometry/reduce/choices';
import type { LiteChoices } from '#core/jobs/lite/choices';
import type { LitePreview } from '#core/jobs/lite/view';
import { NumberField } from '../../ui/fields/NumberField';
import { count, plural } from '../../ui/format';
import { later } from '../../ui/later';
import { useMeasures } from '../../ui/measures/useMeasures';
import { GapField } from '../giving/GapField';
import giving from '../giving/giving.module.css';
import { OneOf } from '../giving/OneOf';
import { isOn, switched } from './choices';
import classes from './Lite.module.css';
import { MOST_PERCENT } from './most-percent';
import { CoarserChoices, FillChoices } from './SurfaceChoices';
import { FORGET_WORDS, STEP_WORDS } from './words';

/** What draws charts is as large as all else on the page: it comes after it. */
const SizesChart = later(async () => (await import('./SizesChart')).SizesChart);

interface StepsListProps {
  choices: LiteChoices;
  onChange: (choices: LiteChoices) => void;
  preview: LitePreview | null;
  /** The step whose choices are shown. */
  open: Step | null;
  onOpen: (step: Step | null) => void;
  disabled: boolean;
}

/** What can be taken away, step by step: each with its switch, what it saves, and its choices. */
export function StepsList({ choices, onChange, preview, open, onOpen, disabled }: StepsListProps) {
  const shown = STEPS.filter((step) => step !== 'hand' || choices.without.length > 0);
  return (
    <ol className={classes.steps} aria-label="Steps">
      {shown.map((step) => {
        const isCarriedOut = isOn(choices, step);
        const isOpen = open === step;
        return (
          <li key={step} data-off={!isCarriedOut || undefined}>
            <div className={classes.step}>
              <Switch
                aria-label={STEP_WORDS[step]}
                checked={isCarriedOut}
                disabled={disabled || (step === 'forget' && choices.outside)}
                onChange={(event) => onChange(switched(choices, step, event.currentTarget.checked))}
              />
              <UnstyledButton
                className={classes.stepName}
                aria-expanded={isOpen}
                onClick={() => onOpen(isOpen ? null : step)}
              >
                {isOpen ? (
                  <IconChevronDown size={14} aria-hidden />
                ) : (
                  <IconChevronRight size={14} aria-hidden />
                )}
                {STEP_WORDS[step]}
              </UnstyledButton>
              <span className={classes.saves}>{savingInWords(step, choices, preview)}</span>
            </div>
            {isOpen && (
              <div className={classes.stepChoices}>
                <ChoicesOfStep
                  step={step}
                  choices={choices}
                  onChange={onChange}
                  preview={preview}
                  disabled={disabled}
                />
              </div>
            )}
          </li>
        );
      })}
    </ol>
  );
}

function savingInWords(step: Step, choices: LiteChoices, preview: LitePreview | null): React.ReactNode {
  const saving = preview?.steps.find((candidate) => candidate.step === step);
  if (step === 'forget') {
    if (choices.outside) return 'all';
    return choices.off.includes('forget') ? '' : `${choices.forget.length} of ${FORGETTABLE.length}`;
  }
  if (!saving) return '';
  const { occurrences, faces } = saving;
  if (faces === 0 && occurrences === 0) return 'saves nothing';
  return (
    <>
      {occurrences > 0 && <span>−{count(occurrences)} comp.</span>}
      <span>−{count(faces)} faces</span>
    </>
  );
}

type ChoicesOfStepProps = Pick<StepsListProps, 'choices' | 'onChange' | 'preview' | 'disabled'> & {
  step: Step;
};

function ChoicesOfStep({ step, choices, onChange, preview, disabled }: ChoicesOfStepProps) {
  const set = (part: Partial<LiteChoices>) => onChange({ ...choices, ...part });
  const components = preview?.components ?? [];
  const { length, number } = useMeasures();
  if (step === 'size')
    return (
      <>
        <Suspense fallback={<div className={classes.chart} />}>
          <SizesChart components={components} threshold={choices.smallerThan} />
        </Suspense>
        <div className={giving.pair}>
          <Slider
            className={classes.slider}
            min={0}
            max={MOST_PERCENT}
            step={0.25}
            label={(value) => `${number(value, 2)} %`}
            thumbLabel="Smallest size, percent of the whole"
            value={Math.min(choices.smallerThan, MOST_PERCENT)}
            onChange={(smallerThan) => set({ smallerThan })}
            disabled={disabled}
          />
          <NumberField
            aria-label="Smallest size, percent of the whole"
            kind="percent"
            least={0}
            most={100}
            step={0.25}
            value={choices.smallerThan}
            onChange={(smallerThan) => set({ smallerThan })}
            disabled={disabled}
            className={classes.number}
          />
        </div>
        <p className="muted">
          Components whose box has a diagonal below {number(choices.smallerThan, 2)} % of the whole’s are left
          out.
        </p>
      </>
    );
  if (step === 'standard')
    return (
      <TextInput
        label="Words in their names"
        value={choices.standard}
        onChange={(event) => set({ standard: event.currentTarget.value })}
        disabled={disabled}
      />
    );
  if (step === 'material')
    return (
      <TagsInput
        label="Materials"
        placeholder={choices.materials.length === 0 ? 'Choose or type one' : ''}
        data={[...new Set(components.flatMap(({ material }) => (material ? [material] : [])))].sort()}
        value={choices.materials}
        onChange={(materials) => set({ materials })}
        disabled={disabled}
      />
    );
  if (step === 'slender')
    return (
      <>
        <NumberField
          label="Longer than so many times its thickness"
          kind="number"
          least={2}
          value={choices.slender}
          onChange={(slender) => set({ slender })}
          disabled={disabled}
        />
        <p className="muted">
          Cables, wires, springs and rods, however they are bent. Sheets, tubes and frames are none. What is
          needed all the same is kept on the list of components.
        </p>
      </>
    );
  if (step === 'hand')
    return (
      <p className="muted">
        {plural(choices.without.length, 'component')}. Choose them on the list of components, or on the model.
      </p>
    );
  const narrowest = choices.gap ?? preview?.gap;
  if (step === 'hidden')
    return (
      <>
        <div className={giving.pair}>
          <GapField
            label="Narrowest opening"
            gap={choices.gap}
            usual={preview?.gap}
            onChange={(gap) => set({ gap })}
            disabled={disabled}
          />
          <OneOf
            label="What is only seen"
            value={choices.seen}
            choices={{ keep: 'stays', drop: 'goes' }}
            onChange={(seen) => set({ seen })}
            disabled={disabled}
          />
        </div>
        <p className="muted">
          {narrowest === undefined
            ? 'What cannot be touched from outside goes.'
            : `What cannot be touched from outside through openings of ${length(narrowest)} goes; openings twice as wide always count as open.`}
        </p>
      </>
    );
  if (step === 'fill') return <FillChoices {...{ choices, onChange, preview, disabled }} />;
  if (step === 'round') return <CoarserChoices {...{ choices, onChange, preview, disabled }} />;
  return (
    <>
      <Checkbox.Group
        value={choices.outside ? [...FORGETTABLE] : choices.forget}
        onChange={(forget) => set({ forget: forget as Forgettable[] })}
      >
        <Stack gap={10}>
          {FORGETTABLE.map((what) => (
            <Checkbox
              key={what}
              value={what}
              label={FORGET_WORDS[what]}
              disabled={disabled || choices.outside}
            />
          ))}
        </Stack>
      </Checkbox.Group>
      <p className="muted">Properties, notes, annotation and history never come along.</p>
    </>
  );
}
