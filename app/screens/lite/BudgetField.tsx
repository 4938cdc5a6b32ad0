import { Button } from '@mantine/core';
import { useState } from 'react';
import type { FoundWithin } from '#core/jobs/lite/budget';
import type { Budget } from '#core/jobs/lite/choices';
import { NumberField } from '../../ui/fields/NumberField';
import { count } from '../../ui/format';
import { useMeasures } from '../../ui/measures/useMeasures';
import { Select } from '../../ui/options';
import giving from '../giving/giving.module.css';
import classes from './Lite.module.css';

/** What it is given in, and how much one of it is. */
const UNITS = {
  faces: { label: 'faces', one: 1, usual: 300 },
  triangles: { label: 'triangles', one: 1, usual: 5000 },
  bytes: { label: 'MB', one: 1e6, usual: 2 },
} as const;

interface BudgetFieldProps {
  /** What was found last. */
  found: FoundWithin | null;
  isLooking: boolean;
  onFind: (budget: Budget) => void;
  disabled: boolean;
}

/** How much the model may come to; the choices that reach it are looked for, and tell what each step came to. */
export function BudgetField({ found, isLooking, onFind, disabled }: BudgetFieldProps) {
  const [what, setWhat] = useState<Budget['what']>(found?.budget.what ?? 'faces');
  const { one } = UNITS[what];
  const [value, setValue] = useState(found ? found.budget.most / one : UNITS[what].usual);
  const { bytes } = useMeasures();
  const inWords = (amount: number, of: Budget['what']) =>
    of === 'bytes' ? bytes(amount) : `${count(amount)} ${UNITS[of].label}`;
  const tried =
    found?.steps.flatMap(({ words, made }) => (made ? [{ words, amount: made[found.budget.what] }] : [])) ??
    [];
  const taken = found && tried.find(({ amount }) => amount <= found.budget.most)?.words;
  return (
    <section className={classes.budget} aria-label="Budget">
      <form
        className={giving.pair}
        onSubmit={(event) => {
          event.preventDefault();
          if (value > 0) onFind({ what, most: value * one });
        }}
      >
        <span>No more than</span>
        <NumberField
          aria-label="No more than"
          kind="number"
          least={0}
          most={1e9}
          digits={what === 'bytes' ? 2 : 0}
          value={value}
          onChange={setValue}
          disabled={disabled}
          className={classes.amount}
        />
        <Select
          aria-label="Of what"
          className={classes.unit}
          data={Object.entries(UNITS).map(([key, { label }]) => ({ value: key, label }))}
          value={what}
          onChange={(chosen) => {
            const next = chosen as Budget['what'];
            setWhat(next);
            setValue(UNITS[next].usual);
          }}
          allowDeselect={false}
          disabled={disabled}
        />
        <Button
          type="submit"
          size="compact-sm"
          variant="default"
          disabled={disabled || value <= 0}
          loading={isLooking}
        >
          Find choices
        </Button>
      </form>
      {found && !isLooking && (
        <>
          <p role="status">
            {found.isReached
              ? 'These choices reach it; change them as you like.'
              : 'No choices reach it: these come nearest. A sealed solid or an envelope may come to less.'}
          </p>
          <ol aria-label="What was tried">
            {tried.map(({ words, amount }) => (
              <li key={words} data-reached={words === taken || undefined}>
                <span>{words}</span>
                <span className="number">{inWords(amount, found.budget.what)}</span>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
