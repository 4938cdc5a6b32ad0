import { Button } from '@mantine/core';
import { Suspense, useState } from 'react';
import { href, Link } from 'react-router';
import type { OfferedFormat } from '#core/jobs/publish/choices';
import { mountingFaces, type PublishedFacts } from '#core/project/change/published-facts';
import { count } from '../../ui/format';
import { Wordmark } from '../../ui/frame/Wordmark';
import { later } from '../../ui/later';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Catalogue.module.css';
import { FORMAT_WORDS } from './words';

/** Whoever looks at the picture only fetches nothing of it. */
const MeshStage = later(async () => (await import('../../stage/MeshStage')).MeshStage);
const MESH = { kind: 'gltf' } as const;

interface CatalogueItemProps {
  token: string;
  title: string;
  facts: PublishedFacts;
  files: { format: OfferedFormat; name: string; bytes: number }[];
}

/** One product: its picture, which can be turned, its measures, how it is mounted, and the files. */
export function CatalogueItemScreen({ token, title, facts, files }: CatalogueItemProps) {
  const { box, bytes, volume } = useMeasures();
  const [isTurned, setTurned] = useState(false);
  const mesh = files.find(({ format }) => format === 'glb');
  const mounting = mountingFaces(facts);
  const picture = (
    <img
      src={href('/catalogue/:token/picture', { token })}
      alt={`${title}, seen from the front, the right and above`}
    />
  );
  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <Wordmark />
        <Link to={href('/catalogue')}>Catalogue</Link>
      </header>
      <div className={classes.item}>
        <div>
          {isTurned ? (
            <Suspense fallback={picture}>
              <div className={classes.model}>
                <MeshStage url={href('/catalogue/:token/model', { token })} name={title} mesh={MESH} />
              </div>
            </Suspense>
          ) : (
            picture
          )}
          {mesh && (
            <p className={classes.turn}>
              <Button variant="default" onClick={() => setTurned(!isTurned)}>
                {isTurned ? 'Show the picture' : 'Turn, cut open and measure it'}
              </Button>
              {!isTurned && <span className="muted">fetches {bytes(mesh.bytes)}</span>}
            </p>
          )}
        </div>
        <div>
          <h1>{title}</h1>
          <dl>
            {facts.partNumber !== undefined && (
              <>
                <dt>Part number</dt>
                <dd>
                  <span className={classes.partNumber}>{facts.partNumber}</span>
                </dd>
              </>
            )}
            <dt>Box</dt>
            <dd className="number">{box(facts.sides)}</dd>
            {facts.volume !== undefined && (
              <>
                <dt>Volume</dt>
                <dd className="number">{volume(facts.volume)}</dd>
              </>
            )}
            <dt>Faces</dt>
            <dd className="number">{count(facts.faces)}</dd>
            <dt>Mounted by</dt>
            <dd>
              {mounting.length === 0 && 'not said'}
              <ul className={classes.mounting} aria-label="Faces that it is mounted by">
                {mounting.map(({ name, size }, n) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: two faces may be called the same
                  <li key={n}>
                    <span>{name}</span>
                    {size !== null && <span className="muted">{size}</span>}
                  </li>
                ))}
              </ul>
            </dd>
          </dl>
          <ul className={classes.files} aria-label="Files">
            {files.map(({ format, name, bytes: size }, n) => (
              <li key={format}>
                <Button
                  component="a"
                  href={href('/catalogue/:token/:format', { token, format })}
                  variant={n === 0 ? 'filled' : 'default'}
                  download={name}
                >
                  {FORMAT_WORDS[format]}
                </Button>
                <span className="number">{bytes(size)}</span>
              </li>
            ))}
          </ul>
          {facts.conditions !== undefined && (
            <section className={classes.conditions} aria-label="Conditions">
              <h2>Conditions</h2>
              <p>{facts.conditions}</p>
            </section>
          )}
        </div>
      </div>
    </main>
  );
}
