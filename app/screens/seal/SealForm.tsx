import { Checkbox } from '@mantine/core';
import { baseName } from '#core/files/links/paths';
import { MESH_FORMATS, type MeshFormat } from '#core/geometry/shape/mesh-formats';
import type { SealChoices } from '#core/jobs/seal/choices';
import type { SealPreview } from '#core/jobs/seal/view';
import { NumberField } from '../../ui/fields/NumberField';
import { GapField } from '../giving/GapField';
import giving from '../giving/giving.module.css';
import { toggledFace } from '../giving/kept-faces';
import { NameField } from '../giving/NameField';
import { OneOf } from '../giving/OneOf';
import { SharpEdgesField } from '../giving/SharpEdgesField';
import classes from './Seal.module.css';

interface SealFormProps {
  choices: SealChoices;
  onChange: (changed: Partial<SealChoices>) => void;
  preview: SealPreview | null;
  disabled: boolean;
}

/** What is closed, how the solid is made, which faces stay, and what is written. */
export function SealForm({ choices, onChange, preview, disabled }: SealFormProps) {
  return (
    <div className={giving.result}>
      <div className={giving.pair}>
        <GapField
          label="Openings narrower than this are closed"
          gap={choices.gap}
          usual={preview?.gap}
          onChange={(gap) => onChange({ gap })}
          disabled={disabled}
        />
        <NumberField
          label="Leave out what is smaller than"
          kind="percent"
          least={0}
          most={100}
          step={0.5}
          value={choices.smallerThan}
          onChange={(smallerThan) => onChange({ smallerThan })}
          disabled={disabled}
        />
      </div>
      <OneOf
        label="Openings that are reached"
        value={choices.openings}
        choices={{ fill: 'are filled too', keep: 'stay open' }}
        onChange={(openings) => onChange({ openings })}
        disabled={disabled}
      />
      <OneOf
        label="How it is made"
        value={choices.way}
        choices={{
          auto: 'exactly, else of facets',
          exact: 'exactly',
          facets: 'of facets',
          envelope: 'an envelope',
        }}
        onChange={(way) => onChange({ way })}
        disabled={disabled}
      />
      {choices.way === 'envelope' && (
        <NumberField
          label="It stands off by no more than"
          kind="length"
          least={0.01}
          most={100_000}
          empty="10 % of the size"
          value={choices.standOff}
          onChange={(standOff) => onChange({ standOff })}
          disabled={disabled}
          className={classes.within}
        />
      )}
      {(choices.way === 'auto' || choices.way === 'facets') && (
        <NumberField
          label="Facets lie no further off than"
          kind="length"
          least={0.001}
          most={100}
          step={0.05}
          digits={3}
          value={choices.within}
          onChange={(within) => onChange({ within })}
          disabled={disabled}
          className={classes.within}
        />
      )}
      {preview && preview.mounting.length > 0 && choices.way !== 'envelope' && (
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
                disabled={disabled}
                onChange={() =>
                  onChange({ keepFaces: toggledFace(choices.keepFaces, { ...face, trace: null }) })
                }
              />
            ))}
          </div>
        </Checkbox.Group>
      )}
      <Checkbox
        label="Make plain rings of teeth, threads and fins"
        checked={choices.roundOut}
        onChange={(event) => onChange({ roundOut: event.currentTarget.checked })}
        disabled={disabled}
      />
      <SharpEdgesField
        value={choices.sharpEdges}
        onChange={(sharpEdges) => onChange({ sharpEdges })}
        disabled={disabled}
        className={classes.sharp}
      />
      {choices.way !== 'envelope' && (
        <Checkbox
          label="Keep what it is probably mounted by: patterns of holes and ends of shafts"
          checked={choices.keepMounting}
          onChange={(event) => onChange({ keepMounting: event.currentTarget.checked })}
          disabled={disabled}
        />
      )}
      <Checkbox.Group
        label="Also as"
        value={choices.formats}
        onChange={(formats) => onChange({ formats: formats as MeshFormat[] })}
      >
        <div className={giving.radios}>
          {MESH_FORMATS.map((format) => (
            <Checkbox key={format} value={format} label={format.toUpperCase()} disabled={disabled} />
          ))}
        </div>
      </Checkbox.Group>
      <NameField
        pattern={choices.pattern}
        file={preview?.file}
        onChange={(pattern) => onChange({ pattern })}
        disabled={disabled}
      />
      {preview && preview.report.loose.length > 0 && (
        <Checkbox
          label="Leave out what touches nothing"
          checked={choices.loose === 'drop'}
          onChange={(event) => onChange({ loose: event.currentTarget.checked ? 'drop' : 'refuse' })}
          disabled={disabled}
        />
      )}
    </div>
  );
}

function keyOf({ file, face }: { file: string; face: number }): string {
  return `${file}#${face}`;
}
