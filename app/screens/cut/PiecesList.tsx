import { Button, TextInput } from '@mantine/core';
import type { CutStep } from '#core/geometry/shape/cut';
import type { PieceView } from '#core/jobs/cut/view';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Cut.module.css';
import { cutInWords } from './draft';
import { PIECE_COLOURS } from './pieces';

interface Props {
  steps: readonly CutStep[];
  pieces: readonly PieceView[];
  names: { [piece: string]: string };
  nameOf: (piece: string) => string;
  selected: string | null;
  onSelect: (piece: string | null) => void;
  onName: (piece: string, name: string) => void;
  onTakeBack: () => void;
  disabled: boolean;
}

/** The cuts made so far, and the pieces that they leave: to be named, or cut again. */
export function PiecesList({
  steps,
  pieces,
  names,
  nameOf,
  selected,
  onSelect,
  onName,
  onTakeBack,
  disabled,
}: Props) {
  const measures = useMeasures();
  const space = measures.volumes(pieces.map(({ facts }) => facts.volume));
  const whole = pieces.reduce((sum, { facts }) => sum + facts.volume, 0);
  return (
    <section className={classes.pieces} aria-label="Pieces">
      <div className={classes.made}>
        <span>{steps.map(({ cutter, piece }) => cutInWords(cutter, piece)).join(', then ')}</span>
        <Button variant="subtle" size="compact-sm" onClick={onTakeBack} disabled={disabled}>
          Take the last cut back
        </Button>
      </div>
      <ul>
        {pieces.map(({ path, facts, sliver }, n) => (
          <li key={path} data-selected={path === selected || undefined}>
            <button
              type="button"
              className={classes.pieceNumber}
              aria-pressed={path === selected}
              aria-label={`Piece ${path}`}
              onClick={() => onSelect(path === selected ? null : path)}
            >
              <i style={{ background: PIECE_COLOURS[n % PIECE_COLOURS.length] }} />
              {path}
            </button>
            <TextInput
              size="xs"
              aria-label={`Name of piece ${path}`}
              placeholder={nameOf(path)}
              value={names[path] ?? ''}
              maxLength={300}
              disabled={disabled}
              onChange={(event) => onName(path, event.currentTarget.value)}
            />
            <span className="number">{space.words(facts.volume)}</span>
            <span className="number">{measures.number((100 * facts.volume) / whole, 1)} %</span>
            {sliver && (
              <p className={classes.sliver} role="alert">
                {sliver}
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
