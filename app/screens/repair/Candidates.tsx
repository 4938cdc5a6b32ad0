import { VisuallyHidden } from '@mantine/core';
import type { Candidate } from '#core/jobs/repair/rank';
import classes from './Repair.module.css';

interface CandidatesProps {
  candidates: readonly Candidate[];
  chosen: string | null;
  isBusy: boolean;
  onChoose: (path: string) => void;
}

/** How sure it is, in words that never say that it is certain. @example inPercent(0.9987) // '> 99 %' */
function inPercent(score: number): string {
  if (score > 0.99) return '> 99 %';
  return score < 0.01 ? '< 1 %' : `${Math.round(100 * score)} %`;
}

/** Files that may be meant, the likeliest first, with what speaks for and against each. */
export function Candidates({ candidates, chosen, isBusy, onChoose }: CandidatesProps) {
  return (
    <div className={classes.candidates} role="radiogroup" aria-label="Candidates" aria-busy={isBusy}>
      {candidates.map(({ path, score, evidence, unusable }) => (
        <button
          key={path}
          type="button"
          role="radio"
          aria-checked={path === chosen}
          disabled={unusable !== null}
          className={classes.candidate}
          onClick={() => onChoose(path)}
        >
          <span className={classes.score}>
            <span className={classes.bar} style={{ width: `${Math.round(score * 100)}%` }} />
            {inPercent(score)}
            <VisuallyHidden> sure</VisuallyHidden>
          </span>
          <span>
            <span className={classes.path}>{path}</span>
            {unusable !== null && <span className={classes.against}>{unusable}</span>}
            {evidence.map(({ words, weight }) => (
              <span key={words} className={weight < 0 ? classes.against : classes.for}>
                {words}
              </span>
            ))}
          </span>
        </button>
      ))}
    </div>
  );
}
