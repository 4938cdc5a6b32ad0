import { ActionIcon, Button } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import type { Point } from '#core/geometry/shape/cut';
import { NumberField } from '../../ui/fields/NumberField';
import { SegmentedControl, Select } from '../../ui/options';
import classes from './Cut.module.css';
import { type Box, type Draft, freshDraft, isClosed, picksFace } from './draft';

interface Props {
  draft: Draft;
  box: Box | null;
  onChange: (draft: Draft) => void;
}

const PLANES = [
  { value: 'z', label: 'XY plane' },
  { value: 'y', label: 'XZ plane' },
  { value: 'x', label: 'YZ plane' },
  { value: 'face', label: 'A flat face' },
];

/** What cuts: a line drawn on a plane, a plane, or a face. Everything drawn can be typed, too. */
export function CutterForm({ draft, box, onChange }: Props) {
  const { kind, on, offset, face, points } = draft;
  const setPoint = (n: number, point: Point) =>
    onChange({ ...draft, points: points.map((other, at) => (at === n ? point : other)) });
  return (
    <div className={classes.cutter}>
      <SegmentedControl
        aria-label="What cuts"
        fullWidth
        data={[
          { value: 'line', label: 'A drawn line' },
          { value: 'plane', label: 'A plane' },
          { value: 'face', label: 'A face' },
        ]}
        value={kind}
        onChange={(value) => {
          const next = value as Draft['kind'];
          onChange(freshDraft(next, next === 'face' ? 'face' : on === 'face' ? 'face' : on, box));
        }}
      />
      {kind !== 'face' && (
        <div className={classes.row}>
          <Select
            label={kind === 'line' ? 'Draw on' : 'Cut with'}
            data={PLANES}
            value={on}
            onChange={(value) => onChange(freshDraft(kind, value as Draft['on'], box))}
            allowDeselect={false}
          />
          <NumberField
            label={on === 'face' ? 'Off the face' : `At ${on}`}
            kind="length"
            value={offset}
            digits={3}
            disabled={on === 'face' && !face?.isFlat}
            onChange={(value) => onChange({ ...draft, offset: value, points: [] })}
          />
        </div>
      )}
      {(kind === 'face' || on === 'face') && (
        <p className={classes.picked}>
          {face ? (
            <>
              Face {face.face + 1} of <b>{face.name}</b>
              {!picksFace(draft) && (
                <Button
                  variant="subtle"
                  size="compact-xs"
                  onClick={() => onChange({ ...draft, face: null, points: [] })}
                >
                  Pick another
                </Button>
              )}
            </>
          ) : (
            <span className="muted">Click the face on the stage.</span>
          )}
        </p>
      )}
      {kind === 'line' && !picksFace(draft) && (
        <div className={classes.points}>
          <p className="muted">
            Click on the stage: corners and middles catch. The ends go on straight; back at the start, the
            line closes and cuts its inside out.
          </p>
          {points.length > 0 && (
            <ol aria-label="Points of the line">
              {points.map((point, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: points have no identity of their own
                <li key={n}>
                  {point.map((value, axis) => (
                    <NumberField
                      key={'xyz'[axis]}
                      aria-label={`${'xyz'[axis]} of point ${n + 1}`}
                      kind="length"
                      digits={3}
                      value={value}
                      onChange={(next) =>
                        setPoint(n, point.map((old, at) => (at === axis ? next : old)) as unknown as Point)
                      }
                    />
                  ))}
                  <ActionIcon
                    variant="subtle"
                    color="gray"
                    aria-label={`Take point ${n + 1} away`}
                    onClick={() => onChange({ ...draft, points: points.filter((_, at) => at !== n) })}
                  >
                    <IconX size={14} />
                  </ActionIcon>
                </li>
              ))}
            </ol>
          )}
          <div className={classes.pointButtons}>
            <Button
              variant="default"
              size="compact-sm"
              disabled={isClosed(points)}
              onClick={() => onChange({ ...draft, points: [...points, points.at(-1) ?? [0, 0, 0]] })}
            >
              Type a point
            </Button>
            <Button
              variant="default"
              size="compact-sm"
              disabled={points.length < 3 || isClosed(points)}
              onClick={() => onChange({ ...draft, points: [...points, points[0]!] })}
            >
              Close the line
            </Button>
            <Button
              variant="default"
              size="compact-sm"
              disabled={points.length === 0}
              onClick={() => onChange({ ...draft, points: [] })}
            >
              Draw anew
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}
