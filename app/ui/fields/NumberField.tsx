import { Popover, TextInput, type TextInputProps, VisuallyHidden } from '@mantine/core';
import { useEffect, useId, useRef, useState } from 'react';
import { LENGTHS, type Measures } from '../measures/measures';
import { type Kind, type Reading, readQuantity } from '../measures/quantity';
import { useMeasures } from '../measures/useMeasures';
import classes from './NumberField.module.css';

type Passed = Pick<
  TextInputProps,
  'label' | 'description' | 'disabled' | 'className' | 'leftSection' | 'leftSectionWidth'
>;

export type NumberFieldProps = Passed & {
  /** Where no label stands beside it. */
  'aria-label'?: string;
  kind: Kind;
  /** mm, degrees, percent, or bare; null where nothing is chosen. */
  value: number | null;
  least?: number;
  most?: number;
  /** How much an arrow key adds. */
  step?: number;
  /** Digits after the sign that are shown; of a length those that say a hundredth of a millimetre. */
  digits?: number;
} & (
    | {
        /** It may be left empty; what is taken then stands in it. */
        empty: string;
        onChange: (value: number | null) => void;
      }
    | { empty?: undefined; onChange: (value: number) => void }
  );

/** What was typed is passed on when nothing more came for so long; milliseconds. */
const PAUSE = 500;

/**
 * The one field for numbers. It keeps what is typed until it is left, takes point or comma, units and sums, says what it
 * understood, and refuses in words what it cannot take; nothing is changed silently.
 */
export function NumberField(props: NumberFieldProps) {
  const { kind, value, least, most, step = 1, digits, empty, onChange, ...passed } = props;
  const measures = useMeasures();
  const id = useId();
  /** What is being typed; null while the field shows its value. */
  const [typed, setTyped] = useState<string | null>(null);
  const pause = useRef<ReturnType<typeof setTimeout>>(undefined);
  const isIn = useRef(false);
  useEffect(() => () => clearTimeout(pause.current), []);
  // A value that comes from elsewhere, as by taking a step back, replaces what was left in the field.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another value is what it waits for
  useEffect(() => {
    if (!isIn.current) setTyped(null);
  }, [value]);

  const inWords = (number: number) => quantityInWords(number, kind, measures, digits);
  const reading = typed === null || typed.trim() === '' ? null : read(typed);
  function read(text: string): Reading {
    const { length, decimal } = measures.preferences;
    const found = readQuantity(text, kind, length, decimal);
    if ('error' in found) return found;
    if (least !== undefined && found.value < least) return { error: `At least ${inWords(least)}.` };
    if (most !== undefined && found.value > most) return { error: `At most ${inWords(most)}.` };
    return found;
  }
  /** Passes on what a text says. @returns whether it says something that can be taken */
  const take = (text: string): boolean => {
    clearTimeout(pause.current);
    if (text.trim() === '') {
      if (empty !== undefined && value !== null) onChange(null);
      return true;
    }
    const found = read(text);
    if ('error' in found) return false;
    if (found.value !== value) onChange(found.value);
    return true;
  };
  const leave = () => {
    isIn.current = false;
    if (typed !== null && take(typed)) setTyped(null);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === 'Enter' && typed !== null) {
      if (take(typed)) setTyped(null);
      event.preventDefault();
    } else if (event.key === 'Escape' && typed !== null) {
      clearTimeout(pause.current);
      setTyped(null);
      event.stopPropagation();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const from = reading && 'value' in reading ? reading.value : (value ?? least ?? 0);
      const to = from + (event.key === 'ArrowUp' ? step : -step);
      const held = Math.min(most ?? to, Math.max(least ?? to, to));
      clearTimeout(pause.current);
      setTyped(null);
      if (held !== value) onChange(Number(held.toPrecision(12)));
    }
  };
  const error = reading && 'error' in reading ? reading.error : null;
  const understood =
    reading && 'value' in reading && !isPlain(typed!, measures) ? `= ${inWords(reading.value)}` : null;
  const said = error ?? understood;
  return (
    <Popover opened={said !== null} withRoles={false} position="bottom-start" offset={4} shadow="sm">
      <Popover.Target>
        <TextInput
          {...passed}
          size="xs"
          inputMode="text"
          autoComplete="off"
          placeholder={empty}
          value={typed ?? (value === null ? '' : inWords(value))}
          error={error !== null}
          aria-describedby={said === null ? undefined : id}
          classNames={{ input: classes.input }}
          onFocus={({ currentTarget }) => {
            isIn.current = true;
            currentTarget.select();
          }}
          onBlur={leave}
          onKeyDown={onKeyDown}
          onChange={({ currentTarget: { value: text } }) => {
            setTyped(text);
            clearTimeout(pause.current);
            // An empty field may be about to be filled.
            if (text.trim() !== '') pause.current = setTimeout(() => take(text), PAUSE);
          }}
          inputContainer={(input) => (
            <>
              {input}
              <VisuallyHidden id={id} role="status">
                {said}
              </VisuallyHidden>
            </>
          )}
        />
      </Popover.Target>
      <Popover.Dropdown className={classes.said} data-error={error !== null || undefined} aria-hidden>
        {said}
      </Popover.Dropdown>
    </Popover>
  );
}

/** A number and nothing else: there is nothing to say about it. */
function isPlain(text: string, { preferences: { decimal, length } }: Measures): boolean {
  return new RegExp(`^\\s*[-−]?\\d*\\${decimal}?\\d*\\s*(${length}|°|%)?\\s*$`).test(text);
}

function quantityInWords(value: number, kind: Kind, measures: Measures, digits: number | undefined): string {
  const { number, preferences } = measures;
  if (kind === 'length') {
    const { mm, digits: usual } = LENGTHS[preferences.length];
    return `${number(value / mm, (digits ?? 2) - 2 + usual)} ${preferences.length}`;
  }
  if (kind === 'angle') return `${number(value, digits ?? 2)}°`;
  return kind === 'percent' ? `${number(value, digits ?? 2)} %` : number(value, digits ?? 6);
}
