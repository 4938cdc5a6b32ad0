import { Autocomplete } from '@mantine/core';
import { densityOf, MATERIALS } from '#core/product/materials';
import { NumberField } from '../../ui/fields/NumberField';
import { plural } from '../../ui/format';
import classes from './Bill.module.css';

/** A material as it is typed: its name, and a density where it is none of the list or weighs otherwise. */
export interface TypedMaterial {
  name: string;
  density: number | null;
}

interface MaterialFieldsProps {
  /** How many parts are chosen that can get one. */
  parts: number;
  value: TypedMaterial;
  onChange: (value: TypedMaterial) => void;
}

/** Material and density for the parts that are chosen. */
export function MaterialFields({ parts, value: { name, density }, onChange }: MaterialFieldsProps) {
  const known = densityOf(name);
  return (
    <div className={classes.material}>
      <Autocomplete
        label={parts === 0 ? 'Material' : `Material of ${plural(parts, 'part')}`}
        placeholder="Choose or type"
        data={MATERIALS.map((material) => material.name)}
        value={name}
        onChange={(typed) => onChange({ name: typed, density: null })}
        size="xs"
      />
      <NumberField
        label="Density, kg/m³"
        kind="number"
        value={density}
        least={1}
        most={100_000}
        step={10}
        digits={1}
        empty={known === null ? 'not known' : String(known)}
        onChange={(typed: number | null) => onChange({ name, density: typed })}
      />
    </div>
  );
}
