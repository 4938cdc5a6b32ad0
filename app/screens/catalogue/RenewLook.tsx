import { Button } from '@mantine/core';
import type { RenewCatalogueOutline } from '#core/jobs/publish/renew';
import type { OfferedRow } from '#server/views/operations/catalogue-view';
import { plural } from '../../ui/format';
import { useOperation } from '../../ui/operation/useOperation';
import { TaskBar } from '../../ui/task/TaskBar';
import classes from './Catalogue.module.css';
import { DifferenceTable } from './DifferenceTable';
import { standingInWords } from './words';

interface RenewLookProps {
  /** What is offered and outdated. */
  rows: readonly OfferedRow[];
  onClose: () => void;
}

/** What renewing would change: for each offer what its page says and will say, and the button that renews all of them. */
export function RenewLook({ rows, onClose }: RenewLookProps) {
  const renewing = useOperation<RenewCatalogueOutline>('renew-catalogue', {
    offers: rows.map(({ choices }) => choices),
  });
  const { planned, refusal, isStale, progress, work } = renewing;
  const trouble = refusal ?? work.error;
  const offers = planned?.preview.offers ?? [];
  if (work.running)
    return <TaskBar progress={work.running} label="Renewing the catalogue" onCancel={work.cancel} />;
  return (
    <section className={classes.form} aria-label="What will change">
      <div className={classes.look}>
        {trouble !== null && (
          <p className={classes.error} role="alert">
            {trouble}
          </p>
        )}
        {progress && <TaskBar progress={progress} label="Looking at what changes" onCancel={renewing.stop} />}
        {trouble === null &&
          offers.map(({ file, title, facts, isMadeAgain }) => {
            const row = rows.find(({ path }) => path === file);
            return (
              <article key={file} className={classes.renewed}>
                <h3>{title}</h3>
                <p className="muted">
                  {row && `${capitalised(standingInWords(row))}. `}
                  {isMadeAgain
                    ? `${file} is made again, and offered as it is then.`
                    : `${file} is offered as it is now.`}
                </p>
                <DifferenceTable before={row?.facts ?? null} after={facts} />
              </article>
            );
          })}
        {planned?.preview.failed.map(({ file, why }) => (
          <p key={file} className={classes.error}>
            {file} stays as it is. {why}
          </p>
        ))}
        <Button
          size="compact-sm"
          disabled={!planned || isStale || trouble !== null}
          onClick={() => void renewing.apply().then((done) => done && onClose())}
        >
          Renew {plural(offers.length || rows.length, 'offer')}
        </Button>
        <Button size="compact-sm" variant="subtle" color="gray" onClick={onClose}>
          Not now
        </Button>
      </div>
    </section>
  );
}

function capitalised(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
