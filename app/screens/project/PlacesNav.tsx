import { Button, Kbd } from '@mantine/core';
import { IconSearch } from '@tabler/icons-react';
import { Link, NavLink } from 'react-router';
import { addressIn, operationAddress } from '../../ui/address/addresses';
import { plural } from '../../ui/format';
import { openFind } from '../../ui/frame/opened';
import type { PlaceEntry } from '../../ui/frame/places';
import classes from './PlacesNav.module.css';

/** How much waits on some pages. */
export interface PageCounts {
  [page: string]: { count: number; of: [one: string, many: string]; meaning: 'missing' | 'behind' };
}

function Count({ page, counts }: { page: string; counts: PageCounts }) {
  const entry = counts[page];
  if (!entry || entry.count === 0) return null;
  return (
    <span className={classes.count} data-meaning={entry.meaning} title={plural(entry.count, ...entry.of)}>
      {entry.count}
    </span>
  );
}

interface PlacesNavProps {
  projectId: string;
  places: readonly PlaceEntry[];
  /** The place that the page shown is in. */
  here: PlaceEntry | undefined;
  counts: PageCounts;
}

/**
 * The five places; what waits in one stands beside its name. Nothing is fetched ahead when the pointer comes near: a page that cannot be
 * fetched ahead, because the server does not answer, makes the router reload the one that is shown, into the browser's error page.
 */
export function PlacesNav({ projectId, places, here, counts }: PlacesNavProps) {
  return (
    <nav className={classes.places} aria-label="Places">
      {places.map(({ place, title, pages }) => (
        <Link
          key={place}
          to={operationAddress(projectId, pages[0]!.page)}
          className={classes.place}
          aria-current={here?.place === place ? 'true' : undefined}
        >
          {title}
          {pages.map(({ page }) => (
            <Count key={page} page={page} counts={counts} />
          ))}
        </Link>
      ))}
    </nav>
  );
}

interface PagesNavProps {
  projectId: string;
  place: PlaceEntry;
  counts: PageCounts;
  /** What stands at the end of the row. */
  children: React.ReactNode;
}

/** The pages of the place where one is. */
export function PagesNav({ projectId, place: { title, pages, visited }, counts, children }: PagesNavProps) {
  return (
    <div className={classes.row}>
      <nav className={classes.pages} aria-label={`Pages of ${title}`}>
        {pages.map(({ page, title: name }) => (
          <NavLink key={page} to={operationAddress(projectId, page)} className={classes.page}>
            {name}
            <Count page={page} counts={counts} />
          </NavLink>
        ))}
        {visited && (
          <span className={classes.page} aria-current="page">
            {visited.title}
          </span>
        )}
      </nav>
      {children}
    </div>
  );
}

/** What is there on every page of a project: search, what was done, who takes part, and the project itself. */
export function ProjectTools({ projectId }: { projectId: string }) {
  return (
    <>
      <Button
        variant="default"
        className={classes.search}
        leftSection={<IconSearch size={14} />}
        rightSection={<Kbd size="xs">Ctrl K</Kbd>}
        onClick={() => void openFind()}
      >
        Find
      </Button>
      <nav className={classes.tools} aria-label="Project">
        <NavLink to={addressIn(projectId, 'activity')} className={classes.page}>
          Activity
        </NavLink>
        <NavLink to={addressIn(projectId, 'people')} className={classes.page}>
          People
        </NavLink>
        <NavLink to={addressIn(projectId, 'settings')} className={classes.page}>
          Project
        </NavLink>
      </nav>
    </>
  );
}
