import { href, Link } from 'react-router';
import type { PublishedFacts } from '#core/project/change/published-facts';
import { Wordmark } from '../../ui/frame/Wordmark';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Catalogue.module.css';

/** Everything that is offered for download, without an account. */
export function CatalogueScreen({
  offered,
}: {
  offered: { token: string; title: string; facts: PublishedFacts }[];
}) {
  const { box } = useMeasures();
  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <Wordmark />
        <h1>Catalogue</h1>
      </header>
      {offered.length === 0 && <p className="muted">Nothing is offered at present.</p>}
      <ul className={classes.grid}>
        {offered.map(({ token, title, facts }) => (
          <li key={token}>
            <Link to={href('/catalogue/:token', { token })}>
              <img src={href('/catalogue/:token/picture', { token })} alt="" width={360} height={240} />
              <strong>{title}</strong>
              {facts.partNumber && <span>{facts.partNumber}</span>}
              <span className="muted">{box(facts.sides)}</span>
            </Link>
          </li>
        ))}
      </ul>
    </main>
  );
}
