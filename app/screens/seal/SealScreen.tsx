import { Checkbox, NumberInput } from '@mantine/core';
import { IconCheck, IconX } from '@tabler/icons-react';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { baseName } from '#core/files/links/paths';
import type { SceneData } from '#core/geometry/scene';
import { MESH_FORMATS, type MeshFormat } from '#core/geometry/shape/mesh-formats';
import { SealChoices } from '#core/jobs/seal/choices';
import type { SealReport } from '#core/jobs/seal/proof';
import type { SealPreview } from '#core/jobs/seal/view';
import { boxOff } from '#core/product/box';
import { IDENTITY } from '#core/product/matrix';
import type { WholeView } from '#server/views/operations/whole-view';
import { addressIn } from '../../ui/address/addresses';
import { bytes, count, figure } from '../../ui/format';
import { OperationPage } from '../../ui/operation/OperationPage';
import { NothingToGive, WholeHead } from '../../ui/project/WholeHead';
import { type Figure, FiguresStrip } from '../giving/FiguresStrip';
import { GapField } from '../giving/GapField';
import giving from '../giving/giving.module.css';
import { toggledFace } from '../giving/kept-faces';
import { NameField } from '../giving/NameField';
import { OneOf } from '../giving/OneOf';
import { TwinStages } from '../giving/TwinStages';
import { useGiving } from '../giving/useGiving';
import classes from './Seal.module.css';

/** What the sealed solid is drawn in: it tells nothing of parts. */
const COLOUR = '#9aa3a8';

/** A whole assembly as one solid: what is closed, how it is made, and the proof that it is one. */
export function SealScreen({ root, roots, scene, trouble }: WholeView) {
  const { projectId, choices, set, making, preview, forget, isDone } = useGiving<SealChoices, SealPreview>(
    'seal',
    { root, trouble },
    SealChoices,
    () => SealChoices.parse({}),
  );
  const after = useMemo(() => sceneSealed(preview), [preview]);
  if (root === null)
    return <NothingToGive title="Nothing to seal yet" words="Then this page makes one solid of it." />;
  return (
    <OperationPage
      operation={making}
      width="least"
      choices={
        <>
          <WholeHead title="Sealed solid" label="What is sealed" root={root} roots={roots} />
          <div className={giving.scroll}>
            <div className={giving.result}>
              <div className={giving.pair}>
                <GapField
                  label="Openings narrower than this are closed"
                  gap={choices.gap}
                  usual={preview?.gap}
                  onChange={(gap) => set({ gap })}
                  disabled={isDone}
                />
                <NumberInput
                  label="Leave out what is smaller than"
                  suffix=" %"
                  min={0}
                  max={100}
                  step={0.5}
                  value={choices.smallerThan}
                  onChange={(value) => set({ smallerThan: Number(value) || 0 })}
                  disabled={isDone}
                />
              </div>
              <OneOf
                label="Openings that are reached"
                value={choices.openings}
                choices={{ fill: 'are filled too', keep: 'stay open' }}
                onChange={(openings) => set({ openings })}
                disabled={isDone}
              />
              <OneOf
                label="How it is made"
                value={choices.way}
                choices={{ auto: 'exactly, else of facets', exact: 'exactly', facets: 'of facets' }}
                onChange={(way) => set({ way })}
                disabled={isDone}
              />
              {choices.way !== 'exact' && (
                <NumberInput
                  label="Facets lie no further off than"
                  suffix=" mm"
                  min={0.001}
                  max={100}
                  step={0.05}
                  decimalScale={3}
                  value={choices.within}
                  onChange={(value) => Number(value) >= 0.001 && set({ within: Number(value) })}
                  disabled={isDone}
                  className={classes.within}
                />
              )}
              {preview && preview.mounting.length > 0 && (
                <Checkbox.Group
                  label="Faces for mounting that stay"
                  value={choices.keepFaces.map(keyOf)}
                  onChange={() => {}}
                >
                  <div className={classes.mounting}>
                    {preview.mounting.slice(0, 6).map((face) => (
                      <Checkbox
                        key={keyOf(face)}
                        value={keyOf(face)}
                        label={`${face.name}, ${baseName(face.file)}`}
                        disabled={isDone}
                        onChange={() =>
                          set({ keepFaces: toggledFace(choices.keepFaces, { ...face, trace: null }) })
                        }
                      />
                    ))}
                  </div>
                </Checkbox.Group>
              )}
              <Checkbox.Group
                label="Also as"
                value={choices.formats}
                onChange={(formats) => set({ formats: formats as MeshFormat[] })}
              >
                <div className={giving.radios}>
                  {MESH_FORMATS.map((format) => (
                    <Checkbox key={format} value={format} label={format.toUpperCase()} disabled={isDone} />
                  ))}
                </div>
              </Checkbox.Group>
              <NameField
                pattern={choices.pattern}
                file={preview?.file}
                onChange={(pattern) => set({ pattern })}
                disabled={isDone}
              />
              {preview && preview.report.loose.length > 0 && (
                <Checkbox
                  label="Leave out what touches nothing"
                  checked={choices.loose === 'drop'}
                  onChange={(event) => set({ loose: event.currentTarget.checked ? 'drop' : 'refuse' })}
                  disabled={isDone}
                />
              )}
            </div>
            {preview && <Proof report={preview.report} />}
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
          {preview && <FiguresStrip label="Before and sealed" figures={figuresOf(preview.report)} />}
        </TwinStages>
      }
      warnings={trouble ? [trouble] : []}
      onApplied={forget}
      empty={trouble ?? 'Nothing yet.'}
      label={() => 'Make the sealed solid'}
      doing="Making the sealed solid"
      done={() => preview && <Link to={addressIn(projectId, 'files', { file: preview.file })}>Show it</Link>}
    />
  );
}

function keyOf({ file, face }: { file: string; face: number }): string {
  return `${file}#${face}`;
}

function figuresOf({ before, after, loose, sections, names }: SealReport): Figure[] {
  return [
    { what: 'solids', from: count(before.bodies), to: count(loose.length + 1) },
    { what: 'faces', from: count(before.faces), to: count(after.faces) },
    { what: 'file size', from: bytes(before.bytes), to: bytes(after.bytes) },
    { what: 'sections filled', from: null, to: `${(100 * Math.min(...sections)).toFixed(1)} %` },
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

type Line = [isRight: boolean, words: string];

/** Whether the faces for mounting are what they were: of facets, to a tenth of what is asked of all others. */
function keptInWords({ kept, within }: SealReport): Line {
  if (within === null) {
    const identical = kept.filter((one) => one.identical).length;
    return [identical === kept.length, `${identical} of ${kept.length} kept faces identical`];
  }
  const off = Math.max(...kept.map((one) => one.off ?? 0));
  return [off <= within / 10, `kept faces within ${figure(off, 'mm')}`];
}

/** What stands for it that it is one solid, line by line. */
function Proof({ report }: { report: SealReport }) {
  const off = boxOff(report.box.before, report.box.after);
  const lines: Line[] = [
    [report.loose.length === 0, 'one solid'],
    [report.isValid, 'valid, oriented, no self-intersection found'],
    [report.isClosed, 'closed: one outer shell, no inner one'],
    [
      report.sections.every((part) => part > 0.9999),
      `sections filled: ${report.sections.map((part) => `${(100 * part).toFixed(1)} %`).join(', ')} across x, y, z`,
    ],
    [off < 0.1, off < 1e-3 ? 'the same box' : `box off by ${figure(off, 'mm')}`],
    [
      report.names.length === 0,
      report.names.length === 0
        ? 'no name of the original in it'
        : `names in it: ${report.names.slice(0, 4).join(', ')}`,
    ],
    [
      report.leaks.length === 0,
      report.leaks.length === 0
        ? 'no words but those of the standard'
        : `words in it: ${report.leaks
            .flatMap(({ examples }) => examples)
            .slice(0, 4)
            .join(', ')}`,
    ],
    ...(report.kept.length > 0 ? [keptInWords(report)] : []),
  ];
  return (
    <section className={classes.proof} aria-label="Proof">
      <h2>{report.way === 'exact' ? 'Exact: its surfaces stay what they were' : 'Made of facets'}</h2>
      <ul>
        {lines.map(([isRight, words]) => (
          <li key={words} data-wrong={!isRight || undefined}>
            {isRight ? <IconCheck size={15} aria-label="yes:" /> : <IconX size={15} aria-label="no:" />}
            {words}
          </li>
        ))}
      </ul>
      <p className="muted">
        {count(report.before.bodies)} bodies and {count(report.before.faces)} faces became{' '}
        {count(report.after.faces)} faces, {bytes(report.before.bytes)} became {bytes(report.after.bytes)}.
        {report.pins > 0 &&
          ` ${report.pins === 1 ? 'One hidden pin joins' : `${report.pins} hidden pins join`} what does not touch.`}
        {report.hollows > 0 && ` ${count(report.hollows)} hollows are filled.`}
      </p>
    </section>
  );
}
