import { Suspense } from 'react';
import { brokenIn } from '#core/files/links/resolve';
import type { Health } from '#server/projects/scan/health';
import { plural } from '../format';
import { later } from '../later';
import { Time } from '../measures/Time';
import classes from './HealthOverTime.module.css';

/** What draws charts is much, and comes after the page. */
const HealthChart = later(async () => (await import('./HealthChart')).HealthChart);

/** Before and after are no course of things. */
const FEWEST_POINTS = 3;

/** Links of a project that want to be looked at, after each of its changes; nothing where there never were any. */
export function HealthOverTime({ health, isSmall }: { health: readonly Health[]; isSmall?: boolean }) {
  const points = health.map(({ time, links }) => ({
    time: Date.parse(time),
    broken: brokenIn(links),
    behind: links.behind,
    all: Object.values(links).reduce((sum, count) => sum + count, 0),
  }));
  if (points.length < FEWEST_POINTS || points.every(({ broken, behind }) => broken + behind === 0))
    return null;
  const worst = points.reduce((most, point) => (point.broken > most.broken ? point : most));
  const now = points.at(-1)!;
  return (
    <figure className={classes.health} data-small={isSmall || undefined}>
      <Suspense fallback={<div className={classes.space} />}>
        <HealthChart points={points} isSmall={isSmall ?? false} />
      </Suspense>
      <figcaption className={classes.words}>
        {plural(now.broken, 'broken link')} of {now.all} now
        {worst.broken > now.broken && (
          <>
            , {worst.broken} on <Time iso={new Date(worst.time).toISOString()} />
          </>
        )}
        {now.behind > 0 && `; ${now.behind} behind`}
      </figcaption>
    </figure>
  );
}
