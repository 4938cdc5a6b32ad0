import type { RenewCatalogueOutline } from '#core/jobs/publish/renew';
import type { OfferedRow } from '#server/views/operations/catalogue-view';
import { plural } from '../../ui/format';
import { useOperation } from '../../ui/operation/useOperation';
import { TaskBar } from '../../ui/task/TaskBar';
import classes from './Catalogue.module.css';
import { DifferenceTable } from './DifferenceTable';
import { OfferLook } from './OfferLook';
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
  const { planned, work } = renewing;
  const count = planned?.preview.offers.length || rows.length;
  if (work.running)
    return <TaskBar progress={work.running} label="Renewing the catalogue" onCancel={work.cancel} />;
  return (
    <section className={classes.form} aria-label="What will change">
      <OfferLook operation={renewing} label={`Renew ${plural(count, 'offer')}`} onClose={onClose}>
        {({ offers, failed }) => (
          <>
            {offers.map(({ file, title, facts, isMadeAgain }) => {
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
            {failed.map(({ file, why }) => (
              <p key={file} className={classes.error}>
                {file} stays as it is. {why}
              </p>
            ))}
          </>
        )}
      </OfferLook>
    </section>
  );
}

function capitalised(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
