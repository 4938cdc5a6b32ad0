import { href, Link } from 'react-router';
import type { PublishedFacts } from '#core/jobs/publish/plan';
import { Wordmark } from '../../ui/frame/Wordmark';
import classes from './Catalogue.module.css';

/** Everything that is offered for download, without an account. */
export function CatalogueScreen({
  offered,
}: {
  offered: { token: string; title: string; facts: PublishedFacts }[];
}) {
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
              <span className="muted">{facts.sides.map((side) => side.toFixed(0)).join(' × ')} mm</span>
            </Link>
          </li>
        ))}
      </ul>
    </main>
  );
}
