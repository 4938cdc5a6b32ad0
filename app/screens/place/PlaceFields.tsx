import { AXES, type Axis, MOST_IN_PATTERN } from '#core/jobs/place/placements';
import type { PlaceView } from '#server/views/operations/place-view';
import { NumberField } from '../../ui/fields/NumberField';
import { SegmentedControl, Select } from '../../ui/options';
import { PartSelect } from '../placing/PartSelect';
import { TripleField } from '../placing/TripleField';
import type { Wanted } from './choices';
import classes from './Place.module.css';

interface PlaceFieldsProps extends Pick<PlaceView, 'assemblies' | 'parts'> {
  wanted: Wanted;
  /** How many components are chosen. */
  chosen: number;
  disabled: boolean;
  onPart: (path: string | null) => void;
  onChange: (some: Partial<Wanted>) => void;
}

/** What is typed for a placing. */
export function PlaceFields(props: PlaceFieldsProps) {
  const { wanted, chosen, disabled, onChange } = props;
  if (wanted.way === 'place-again') return <AgainFields {...props} />;
  const isShift = wanted.way === 'set-placement' && chosen > 1;
  return (
    <>
      {wanted.way === 'place' && <PartFields {...props} />}
      <TripleField
        label={isShift ? 'Shift' : 'Position'}
        kind="length"
        value={wanted.position}
        disabled={disabled || (wanted.way === 'set-placement' && chosen === 0)}
        onChange={(position) => onChange({ position })}
      />
      <TripleField
        label={isShift ? 'Turn each by' : 'Turn'}
        kind="angle"
        value={wanted.turn}
        disabled={disabled || (wanted.way === 'set-placement' && chosen === 0)}
        onChange={(turn) => onChange({ turn })}
      />
    </>
  );
}

function PartFields({ wanted, disabled, assemblies, parts, onPart, onChange }: PlaceFieldsProps) {
  const several = assemblies.length > 1;
  return (
    <>
      <PartSelect label="File" parts={parts} value={wanted.part} disabled={disabled} onChange={onPart} />
      {several && (
        <Select
          label="Into"
          className={classes.into}
          placeholder="The top assembly"
          data={assemblies.map(({ definition, name, placed }) => ({
            value: String(definition),
            label: placed > 1 ? `${name} (placed ${placed} times)` : name,
          }))}
          value={wanted.into === null ? null : String(wanted.into)}
          searchable
          clearable
          limit={200}
          disabled={disabled}
          onChange={(into) => onChange({ into: into === null ? null : Number(into) })}
        />
      )}
    </>
  );
}

function AgainFields({ wanted, disabled, onChange }: PlaceFieldsProps) {
  return (
    <>
      <SegmentedControl
        aria-label="In a row or a circle"
        data={[
          { value: 'row', label: 'Row' },
          { value: 'circle', label: 'Circle' },
        ]}
        value={wanted.isCircle ? 'circle' : 'row'}
        disabled={disabled}
        onChange={(value) => onChange({ isCircle: value === 'circle' })}
      />
      <NumberField
        label="In all"
        className={classes.number}
        kind="number"
        digits={0}
        least={2}
        most={MOST_IN_PATTERN}
        disabled={disabled}
        value={wanted.count}
        onChange={(count) => onChange({ count: Math.round(count) })}
      />
      {wanted.isCircle ? (
        <>
          <Select
            label="Around"
            className={classes.number}
            data={Object.keys(AXES)}
            value={wanted.axis}
            allowDeselect={false}
            disabled={disabled}
            onChange={(axis) => axis && onChange({ axis: axis as Axis })}
          />
          <NumberField
            label="Angle"
            className={classes.number}
            kind="angle"
            least={-360}
            most={360}
            disabled={disabled}
            value={wanted.angle}
            onChange={(angle) => onChange({ angle })}
          />
          <TripleField
            label="Axis through"
            kind="length"
            value={wanted.through}
            disabled={disabled}
            onChange={(through) => onChange({ through })}
          />
        </>
      ) : (
        <TripleField
          label="From one to the next"
          kind="length"
          value={wanted.step}
          disabled={disabled}
          onChange={(step) => onChange({ step })}
        />
      )}
    </>
  );
}
