import { Button, Slider } from '@mantine/core';
import { NumberField } from '../ui/fields/NumberField';
import { useMeasures } from '../ui/measures/useMeasures';
import { SegmentedControl } from '../ui/options';
import classes from './Stage.module.css';
import { AXES, type Axis, axisOf, isTurned, placeOf, turned } from './section-address';
import type { SectionPlane } from './types';

interface SectionBarProps {
  section: SectionPlane;
  /** How far the model reaches along the section's direction, mm. */
  reach: readonly [least: number, most: number];
  /** Waiting for a face to be picked. */
  isPicking: boolean;
  onAxis: (axis: Axis) => void;
  onPickFace: () => void;
  onChange: (section: SectionPlane) => void;
}

/** Where the model is cut open: across an axis or along a face, how far along, and which side is taken away. */
export function SectionBar({ section, reach, isPicking, onAxis, onPickFace, onChange }: SectionBarProps) {
  const { length } = useMeasures();
  const axis = axisOf(section.normal);
  const place = placeOf(section);
  const side = isTurned(section.normal) ? -1 : 1;
  const [least, most] = reach;
  const range = [side * least, side * most].sort((a, b) => a - b) as [number, number];
  const move = (to: number) => onChange({ ...section, at: side * to });
  return (
    <div className={classes.bar} role="toolbar" aria-label="Section">
      <SegmentedControl
        size="xs"
        data={[...AXES, { value: 'face', label: 'Face' }]}
        value={isPicking ? 'face' : (axis ?? 'face')}
        onChange={(value) => (value === 'face' ? onPickFace() : onAxis(value as Axis))}
        aria-label="Across which axis, or along a face"
      />
      {isPicking ? (
        <span>Pick a flat face to cut along.</span>
      ) : (
        <>
          <Slider
            className={classes.slider}
            min={range[0]}
            max={range[1]}
            step={(range[1] - range[0]) / 400 || 1}
            label={(value) => length(value)}
            value={place}
            onChange={move}
            thumbLabel="Where the section lies"
          />
          <NumberField
            className={classes.place}
            aria-label="Where the section lies"
            kind="length"
            value={place}
            onChange={move}
          />
          <Button variant="default" onClick={() => onChange(turned(section))}>
            Other side
          </Button>
          {axis === null && (
            <Button variant="default" onClick={onPickFace}>
              Another face
            </Button>
          )}
        </>
      )}
    </div>
  );
}
