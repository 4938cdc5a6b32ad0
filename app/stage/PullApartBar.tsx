import { Button, Slider } from '@mantine/core';
import type { Point } from '#core/geometry/shape/cut';
import { NumberField } from '../ui/fields/NumberField';
import classes from './Stage.module.css';

interface PullApartBarProps {
  spread: number;
  onSpread: (spread: number) => void;
  isShifting: boolean;
  onShifting: (on: boolean) => void;
  hasSelection: boolean;
  /** How far what is selected is off, mm. */
  shift: Point;
  onShift: (by: Point) => void;
  onPutBack: () => void;
}

/** Pulls bodies apart for a look, and shifts what is selected. Nothing but the picture changes. */
export function PullApartBar({
  spread,
  onSpread,
  isShifting,
  onShifting,
  hasSelection,
  shift,
  onShift,
  onPutBack,
}: PullApartBarProps) {
  return (
    <div className={classes.bar} role="toolbar" aria-label="Pull apart">
      <span>Pull apart</span>
      <Slider
        className={classes.slider}
        min={0}
        max={1}
        step={0.01}
        label={(value) => `${Math.round(value * 100)} %`}
        value={spread}
        onChange={onSpread}
        thumbLabel="How far the bodies are pulled apart"
      />
      <Button
        variant={isShifting ? 'light' : 'subtle'}
        aria-pressed={isShifting}
        onClick={() => onShifting(!isShifting)}
      >
        Shift
      </Button>
      {isShifting && !hasSelection && <span className="muted">Select what to shift.</span>}
      {isShifting &&
        hasSelection &&
        (['x', 'y', 'z'] as const).map((axis, n) => (
          <NumberField
            key={axis}
            className={classes.shift}
            aria-label={`Shift along ${axis}`}
            leftSection={axis}
            kind="length"
            digits={1}
            value={shift[n]!}
            onChange={(value) =>
              onShift(shift.map((old, at) => (at === n ? value : old)) as unknown as Point)
            }
          />
        ))}
      {isShifting && (
        <Button variant="subtle" onClick={onPutBack}>
          Put all back
        </Button>
      )}
    </div>
  );
}
