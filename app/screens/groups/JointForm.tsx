import { ActionIcon, Slider, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { JOINT_KINDS, type Joint } from '#core/jobs/groups/choices';
import { FREE, type Freedom, type JointValue } from '#core/jobs/groups/freedoms';
import { NumberField } from '../../ui/fields/NumberField';
import { useMeasures } from '../../ui/measures/useMeasures';
import { Select } from '../../ui/options';
import classes from './Groups.module.css';

const KIND_WORDS: { readonly [kind in Joint['kind']]: string } = {
  revolute: 'turns (revolute)',
  prismatic: 'slides (prismatic)',
  cylindrical: 'turns and slides (cylindrical)',
  planar: 'moves in a plane (planar)',
  fixed: 'fixed',
};

const FREEDOM_WORDS: { readonly [freedom in Freedom]: string } = {
  turn: 'turn',
  way: 'way',
  slideX: 'first way',
  slideY: 'second way',
};

const SLIDER_WORDS: { readonly [freedom in Freedom]: string } = {
  turn: 'Turn',
  way: 'Way along the axis',
  slideX: 'First way in the plane',
  slideY: 'Second way in the plane',
};

interface JointFormProps {
  joint: Joint;
  value: JointValue;
  /** Names of the groups. */
  groups: readonly string[];
  /** Diagonal of the whole, mm. */
  size: number;
  disabled: boolean;
  onChange: (part: Partial<Joint>) => void;
  onDrive: (to: Partial<JointValue>) => void;
  onRemove: () => void;
}

/** A joint: between what, of which kind, within which limits; and a slider for each way in which it goes. */
export function JointForm(props: JointFormProps) {
  const { joint, groups, disabled, onChange, onRemove } = props;
  const { name, between, kind, at, direction } = joint;
  return (
    <div className={classes.joint} role="group" aria-label={name}>
      <div className={classes.jointHead}>
        <TextInput
          size="xs"
          aria-label="Name of the joint"
          value={name}
          maxLength={100}
          disabled={disabled}
          onChange={(event) =>
            event.currentTarget.value.trim() !== '' && onChange({ name: event.currentTarget.value })
          }
        />
        <Select
          size="xs"
          aria-label={`Kind of ${name}`}
          data={JOINT_KINDS.map((kind) => ({ value: kind, label: KIND_WORDS[kind] }))}
          value={kind}
          onChange={(next) => onChange({ kind: next as Joint['kind'] })}
          allowDeselect={false}
          disabled={disabled}
        />
        <ActionIcon
          variant="subtle"
          color="gray"
          aria-label={`Remove ${name}`}
          disabled={disabled}
          onClick={onRemove}
        >
          <IconX size={14} />
        </ActionIcon>
      </div>
      <div className={classes.jointBetween}>
        <Select
          size="xs"
          aria-label={`What ${name} moves`}
          data={[...groups]}
          value={between[1]}
          onChange={(next) => next && onChange({ between: [between[0], next] })}
          allowDeselect={false}
          disabled={disabled}
        />
        <span className="muted">on</span>
        <Select
          size="xs"
          aria-label={`What ${name} moves on`}
          data={[...groups]}
          value={between[0]}
          onChange={(next) => next && onChange({ between: [next, between[1]] })}
          allowDeselect={false}
          disabled={disabled}
        />
      </div>
      <div className={classes.axis}>
        {(['at', 'direction'] as const).map((what) => (
          <div key={what}>
            <span className="muted">{what === 'at' ? 'Axis through' : 'Along'}</span>
            {(what === 'at' ? at : direction).map((number, axis) => (
              <NumberField
                // biome-ignore lint/suspicious/noArrayIndexKey: x, y and z
                key={axis}
                kind={what === 'at' ? 'length' : 'number'}
                digits={4}
                aria-label={`${'xyz'[axis]} of ${what === 'at' ? 'a point of the axis' : 'the direction'} of ${name}`}
                value={number}
                disabled={disabled}
                onChange={(next) => {
                  const changed = [...(what === 'at' ? at : direction)] as Joint['at'];
                  changed[axis] = next;
                  if (what === 'at' || Math.hypot(...changed) > 0) onChange({ [what]: changed });
                }}
              />
            ))}
          </div>
        ))}
      </div>
      {FREE[kind].map((freedom) => (
        <Drive key={freedom} freedom={freedom} {...props} />
      ))}
    </div>
  );
}

/** One way in which a joint goes: its limits, and a slider between them. */
function Drive({
  freedom,
  joint,
  value,
  size,
  disabled,
  onChange,
  onDrive,
}: JointFormProps & { freedom: Freedom }) {
  const { name, kind, [freedom]: range } = joint;
  const turns = freedom === 'turn';
  const { figure } = useMeasures();
  const most = turns ? 180 : Math.max(1, Math.round(size / 4));
  const [low, high] = range ?? [-most, most];
  const words = FREEDOM_WORDS[freedom];
  const limit = (which: 0 | 1, next: number | null) => {
    const changed: [number, number] = [low, high];
    if (next !== null) changed[which] = next;
    onChange({ [freedom]: next === null ? null : changed });
  };
  const limitField = (which: 0 | 1) => (
    <NumberField
      kind={turns ? 'angle' : 'length'}
      least={which === 0 ? undefined : low}
      most={which === 0 ? high : undefined}
      aria-label={`${which === 0 ? 'Least' : 'Largest'} ${words} of ${name}`}
      empty="any"
      value={range?.[which] ?? null}
      disabled={disabled}
      onChange={(next) => limit(which, next)}
    />
  );
  return (
    <div className={classes.drive}>
      {FREE[kind].length > 1 && <span className="muted">{SLIDER_WORDS[freedom]}</span>}
      {limitField(0)}
      <Slider
        min={low}
        max={high}
        step={turns ? 1 : 0.5}
        label={(value) => figure(value, turns ? '°' : 'mm')}
        thumbLabel={FREE[kind].length === 1 ? `Drive ${name}` : `Drive ${name}: ${words}`}
        value={Math.min(high, Math.max(low, value[freedom]))}
        onChange={(next) => onDrive({ [freedom]: next })}
      />
      {limitField(1)}
    </div>
  );
}
