import { Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import { someOf } from '#core/command/words';
import type { ReplacePreview } from '#core/jobs/place/choices';
import { IDENTITY } from '#core/product/matrix';
import type { PlaceView } from '#server/views/operations/place-view';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { useMeasures } from '../../ui/measures/useMeasures';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import { rowsOf } from '../assembling/component-rows';
import { occurrencesAsked, occurrenceTable } from '../assembling/occurrences';
import { PartSelect } from '../placing/PartSelect';
import { insteadOf } from '../placing/shown';
import { FigureTable } from './FigureTable';
import classes from './Replace.module.css';

/** Another file takes the place of a component: both in place, and how they differ, before it is done. */
export function ReplaceScreen(view: PlaceView) {
  const { file, occurrences, placements, parts, part, scene, rows } = view;
  const { mayEdit } = useOutletContext<ProjectContext>();
  const measures = useMeasures();
  const [address, change] = useView();
  const asked = address.get('part');
  const [chosen, setChosen] = useState<readonly string[]>(() =>
    occurrencesAsked(address.get('components'), occurrences),
  );
  const [everywhere, setEverywhere] = useState(() => address.has('everywhere'));
  const [fit, setFit] = useState(false);
  const replacing = useOperation<ReplacePreview>(
    'replace',
    file === null || asked === null || chosen.length === 0
      ? null
      : { file, occurrences: chosen, part: asked, everywhere, fit },
  );
  const { planned, isDone } = replacing;
  const preview = planned?.preview ?? null;
  const fits = preview?.fits ?? null;
  const motion = (fit && fits?.motion) || IDENTITY;
  const drawn = useMemo(() => {
    if (isDone || part?.path !== asked) return scene;
    const keys = new Set(chosen);
    const old = rowsOf(rows, keys);
    const faded = scene.instances.map((instance) =>
      old.has(instance.row) ? instance : { ...instance, tone: 'faint' as const },
    );
    const anew = insteadOf({ rows, placements, occurrences, part }, keys, motion);
    return { ...scene, instances: [...faded, ...anew] };
  }, [isDone, part, asked, scene, rows, placements, occurrences, chosen, motion]);
  if (file === null)
    return <NothingToDo title="Nothing to replace">This project has no assembly.</NothingToDo>;
  const isStill = fits !== null && fits.distance < 1e-6 && fits.angle < 1e-6;
  return (
    <AssemblingPage
      operation={replacing}
      title="Replace a component"
      fileLabel="In the assembly"
      view={{ ...view, file, scene: drawn }}
      fields={
        <>
          <PartSelect
            label="By the file"
            parts={parts}
            value={asked}
            disabled={!mayEdit || isDone}
            onChange={(path) => {
              setFit(false);
              change({ part: path });
            }}
          />
          <div className={classes.switches}>
            <Checkbox
              label="Wherever the project places the same component"
              checked={everywhere}
              disabled={!mayEdit || isDone}
              onChange={({ currentTarget: { checked } }) => setEverywhere(checked)}
            />
            {(fit || (fits !== null && !isStill)) && (
              <Checkbox
                label={
                  fits
                    ? `Lay it where the old one is: ${measures.figure(fits.distance, 'mm')}, ${measures.figure(fits.angle, '°')}`
                    : 'Lay it where the old one is'
                }
                checked={fit}
                disabled={!mayEdit || isDone}
                onChange={({ currentTarget: { checked } }) => setFit(checked)}
              />
            )}
          </div>
        </>
      }
      tools={preview && <FigureTable was={preview.was} now={preview.now} />}
      table={occurrenceTable(file, occurrences)}
      chosen={chosen}
      onChoose={setChosen}
      empty="Choose the component that goes, in the table or on the model, and the file that takes its place. Both are shown in place before anything is done."
      label={(plan) => (plan ? `Replace in ${plural(plan.preview.occurrences.length, 'place')}` : 'Replace')}
      doing="Replacing"
      lines={({ summary, preview: { assemblies, was, now, fits: same } }) => [
        `${summary}.`,
        ...(assemblies.length > 1 ? [someOf(assemblies, 8)] : []),
        was && now
          ? shapeWords(same === null ? 'other' : isStill ? 'same' : fit ? 'laid' : 'elsewhere')
          : 'What goes is not there, or one of them is not measured yet: how they differ cannot be said.',
      ]}
    />
  );
}

function shapeWords(how: 'other' | 'same' | 'laid' | 'elsewhere'): string {
  return {
    other: 'The new one has another shape: its origin stands where the other one’s was.',
    same: 'The new one has the same shape, in the same place.',
    laid: 'The new one has the same shape, but lies elsewhere: it is laid where the old one is.',
    elsewhere:
      'The new one has the same shape, but lies elsewhere: its origin stands where the other one’s was.',
  }[how];
}
