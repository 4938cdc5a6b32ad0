import type { Candidate } from '#core/jobs/repair/rank';
import { FilePicture } from '../../ui/project/FilePicture';
import { Sure } from '../../ui/Sure';
import classes from './Repair.module.css';

interface CandidatesProps {
  candidates: readonly Candidate[];
  chosen: string | null;
  isBusy: boolean;
  onChoose: (path: string) => void;
}

/** Files that may be meant, the likeliest first, with what speaks for and against each. */
export function Candidates({ candidates, chosen, isBusy, onChoose }: CandidatesProps) {
  return (
    <div className={classes.candidates} role="radiogroup" aria-label="Candidates" aria-busy={isBusy}>
      {candidates.length > 0 && (
        <p className={classes.candidatesHead} aria-hidden>
          <span>How sure</span>
          <span>File, and why</span>
        </p>
      )}
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
          <Sure part={score} />
          <span>
            <span className={classes.path}>{path}</span>
            {unusable !== null && <span className={classes.against}>{unusable}</span>}
            {evidence.map(({ words, weight }) => (
              <span key={words} className={weight < 0 ? classes.against : classes.for}>
                {words}
              </span>
            ))}
          </span>
          <FilePicture path={path} width={64} />
        </button>
      ))}
    </div>
  );
}
