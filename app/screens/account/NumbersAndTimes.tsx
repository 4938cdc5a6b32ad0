import { Button } from '@mantine/core';
import { useContext, useState } from 'react';
import { Form } from 'react-router';
import { DECIMAL_SIGNS, LENGTH_UNITS, MASS_UNITS } from '#server/auth/preferences';
import { measuresFor } from '../../ui/measures/measures';
import { PreferencesContext, useBrowserZone } from '../../ui/measures/useMeasures';
import { SegmentedControl, Select } from '../../ui/options';
import classes from './Account.module.css';

/** The browser's own zone, as a choice of its own. */
const OF_THE_BROWSER = '';

/** In which units and signs somebody reads, and whose clock. */
export function NumbersAndTimes({ isBusy, isDone }: { isBusy: boolean; isDone: boolean }) {
  const kept = useContext(PreferencesContext);
  const [chosen, setChosen] = useState(kept);
  const zone = useBrowserZone();
  const { length, mass, volume, time } = measuresFor(chosen, zone);
  const [now] = useState(() => new Date().toISOString());
  const change = (part: Partial<typeof chosen>) => setChosen({ ...chosen, ...part });
  const isAsKept = JSON.stringify(chosen) === JSON.stringify(kept);
  return (
    <section aria-label="Numbers and times">
      <h2>Numbers and times</h2>
      <p className="muted">
        What you see and type. Files, and what is counted in them, stay in their own units.
      </p>
      <Form method="post" className={classes.numbers}>
        <input type="hidden" name="do" value="preferences" />
        <Choice
          label="Lengths"
          name="length"
          value={chosen.length}
          data={LENGTH_UNITS.map((unit) => ({ value: unit, label: unit === 'in' ? 'inch' : unit }))}
          onChange={(value) => change({ length: value as typeof chosen.length })}
        />
        <Choice
          label="Masses"
          name="mass"
          value={chosen.mass}
          data={MASS_UNITS.map((unit) => ({
            value: unit,
            label: unit === 'by size' ? 'g or kg, by size' : unit,
          }))}
          onChange={(value) => change({ mass: value as typeof chosen.mass })}
        />
        <Choice
          label="Decimal sign"
          name="decimal"
          value={chosen.decimal}
          data={DECIMAL_SIGNS.map((sign) => ({ value: sign, label: sign === '.' ? '0.5' : '0,5' }))}
          onChange={(value) => change({ decimal: value as typeof chosen.decimal })}
        />
        <Select
          label="Time zone"
          name="zone"
          data={[
            { value: OF_THE_BROWSER, label: zone === null ? 'The browser’s' : `The browser’s (${zone})` },
            ...['UTC', ...Intl.supportedValuesOf('timeZone').filter((name) => name !== 'UTC')],
          ]}
          value={chosen.zone ?? OF_THE_BROWSER}
          onChange={(value) => change({ zone: value || null })}
          searchable
          allowDeselect={false}
        />
        <p className={classes.example} aria-live="polite">
          {length(1234.5)} · {mass(2540)} · {volume(81_300)}
          {zone !== null && ` · ${time(now)}`}
        </p>
        <Button type="submit" disabled={isBusy || isAsKept}>
          Keep these
        </Button>
        {isDone && isAsKept && <span role="status">Kept. Every page shows them from now on.</span>}
      </Form>
    </section>
  );
}

interface ChoiceProps {
  label: string;
  name: string;
  value: string;
  data: { value: string; label: string }[];
  onChange: (value: string) => void;
}

function Choice({ label, ...control }: ChoiceProps) {
  return (
    <div className={classes.choice}>
      <span>{label}</span>
      <SegmentedControl {...control} aria-label={label} />
    </div>
  );
}
