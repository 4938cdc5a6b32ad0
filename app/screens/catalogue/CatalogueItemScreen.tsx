import { Button } from '@mantine/core';
import { href, Link } from 'react-router';
import type { PublishedFacts } from '#core/jobs/publish/plan';
import { bytes, count } from '../../ui/format';
import { Wordmark } from '../../ui/frame/Wordmark';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Catalogue.module.css';

const FORMAT_WORDS: { readonly [format: string]: string } = {
  step: 'STEP, exact, for design',
  glb: 'glTF, for viewers and the web',
  '3mf': '3MF, for printing',
  stl: 'STL, triangles',
};

interface CatalogueItemProps {
  token: string;
  title: string;
  facts: PublishedFacts;
  files: { format: string; name: string; bytes: number }[];
}

/** One product: its picture, its box, how it is mounted, and the files. */
export function CatalogueItemScreen({ token, title, facts, files }: CatalogueItemProps) {
  const { box } = useMeasures();
  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <Wordmark />
        <Link to={href('/catalogue')}>Catalogue</Link>
      </header>
      <div className={classes.item}>
        <img
          src={href('/catalogue/:token/picture', { token })}
          alt={`${title}, seen from the front, the right and above`}
        />
        <div>
          <h1>{title}</h1>
          <dl>
            <dt>Box</dt>
            <dd className="number">{box(facts.sides)}</dd>
            <dt>Faces</dt>
            <dd className="number">{count(facts.faces)}</dd>
            <dt>Mounted by</dt>
            <dd>{facts.mounting.length > 0 ? facts.mounting.join('; ') : 'not said'}</dd>
          </dl>
          <ul aria-label="Files">
            {files.map(({ format, name, bytes: size }, n) => (
              <li key={format}>
                <Button
                  component="a"
                  href={href('/catalogue/:token/:format', { token, format })}
                  variant={n === 0 ? 'filled' : 'default'}
                  download={name}
                >
                  {FORMAT_WORDS[format] ?? format}
                </Button>
                <span className="number">{bytes(size)}</span>
              </li>
            ))}
          </ul>
        </div>
      </div>
    </main>
  );
}
