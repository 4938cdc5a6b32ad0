import { useMemo } from 'react';
import { Link } from 'react-router';
import type { SceneData } from '#core/geometry/scene';
import { SealChoices } from '#core/jobs/seal/choices';
import type { SealReport } from '#core/jobs/seal/proof';
import type { SealPreview } from '#core/jobs/seal/view';
import { IDENTITY } from '#core/product/matrix';
import type { WholeView } from '#server/views/operations/whole-view';
import { addressIn } from '../../ui/address/addresses';
import { count } from '../../ui/format';
import type { Measures } from '../../ui/measures/measures';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationPage } from '../../ui/operation/OperationPage';
import { NothingToGive, WholeHead } from '../../ui/project/WholeHead';
import { type Figure, FiguresStrip } from '../giving/FiguresStrip';
import giving from '../giving/giving.module.css';
import { PresetPicker } from '../giving/PresetPicker';
import { TwinStages } from '../giving/TwinStages';
import { useGiving } from '../giving/useGiving';
import { Proof } from './Proof';
import { SealForm } from './SealForm';

/** What the sealed solid is drawn in: it tells nothing of parts. */
const COLOUR = '#9aa3a8';

/** A whole assembly as one solid: what is closed, how it is made, and the proof that it is one. */
export function SealScreen({ root, roots, scene, trouble, before, presets }: WholeView) {
  const { projectId, choices, set, making, preview, forget, isDone } = useGiving<SealChoices, SealPreview>(
    'seal',
    { root, trouble },
    SealChoices,
    () => SealChoices.parse({}),
  );
  const measures = useMeasures();
  const after = useMemo(() => sceneSealed(preview), [preview]);
  if (root === null)
    return <NothingToGive title="Nothing to seal yet" words="Then this page makes one solid of it." />;
  return (
    <OperationPage
      operation={making}
      before={before}
      width="least"
      choices={
        <>
          <WholeHead title="Sealed solid" label="What is sealed" root={root} roots={roots} />
          <PresetPicker
            operation="seal"
            presets={presets}
            choices={{ ...choices, file: root }}
            onTake={(preset) => {
              const { keepFaces, folder } = choices;
              set(SealChoices.parse({ ...preset, keepFaces, folder }));
            }}
            disabled={isDone}
          />
          <div className={giving.scroll}>
            <SealForm choices={choices} onChange={set} preview={preview} disabled={isDone} />
            {preview && (
              <Proof report={preview.report} onWithin={(within) => set({ way: 'facets', within })} />
            )}
          </div>
        </>
      }
      stage={
        <TwinStages
          sceneKey={root}
          before={{ title: 'Before', scene }}
          after={{ title: 'Sealed', scene: after }}
          isStale={making.isStale}
        >
          {preview && (
            <FiguresStrip label="Before and sealed" figures={figuresOf(preview.report, measures)} />
          )}
        </TwinStages>
      }
      warnings={trouble ? [trouble] : []}
      onApplied={forget}
      empty={trouble ?? 'Nothing yet.'}
      label={() => 'Make the sealed solid'}
      doing="Making the sealed solid"
      done={() => preview && <Link to={addressIn(projectId, 'files', { sel: preview.file })}>Show it</Link>}
    />
  );
}

function figuresOf(
  { before, after, loose, sections, names }: SealReport,
  { bytes, percent }: Measures,
): Figure[] {
  return [
    { what: 'solids', from: count(before.bodies), to: count(loose.length + 1) },
    { what: 'faces', from: count(before.faces), to: count(after.faces) },
    { what: 'file size', from: bytes(before.bytes), to: bytes(after.bytes) },
    { what: 'sections filled', from: null, to: percent(Math.min(...sections), 1) },
    { what: 'names of the original', from: null, to: count(names.length) },
  ];
}

function sceneSealed(preview: SealPreview | null): SceneData {
  if (!preview) return { bodies: [], instances: [] };
  return {
    bodies: [{ ...preview.picture, colour: COLOUR }],
    instances: [
      {
        row: 0,
        body: 0,
        placement: [...IDENTITY],
        name: 'Sealed solid',
      },
    ],
  };
}
