import { Badge } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { Suspense, useEffect, useRef, useState } from 'react';
import { Outlet, useBlocker, useFetcher, useLocation } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import type { RegistryEntry } from '#core/entry';
import { brokenIn, type LinkState } from '#core/files/links/resolve';
import type { ShapeProgress } from '#server/views/files/files-view';
import type { Standing } from '#server/views/files/standing';
import { addressIn } from '../../ui/address/addresses';
import { fetchPatiently, serverAnswers, useLost, useOffline } from '../../ui/connection/connection';
import { listenTogether } from '../../ui/connection/live-events';
import { useReloadSoon } from '../../ui/connection/useReload';
import { openFind, openKeys } from '../../ui/frame/opened';
import { placeOf, placesOf } from '../../ui/frame/places';
import { TopBar } from '../../ui/frame/TopBar';
import { later } from '../../ui/later';
import { preparationOf } from '../../ui/project/preparation';
import type { ProjectContext } from '../../ui/project/project-context';
import { useSending } from '../../ui/sending/useSending';
import { useFocusKept } from '../../ui/useFocusKept';
import { useKey } from '../../ui/useKey';
import { Voice } from '../../ui/voice';
import { type PageCounts, PagesNav, PlacesNav, ProjectTools } from './PlacesNav';
import classes from './ProjectFrame.module.css';
import { Running } from './Running';
import { SendingBar } from './SendingBar';
import { WorkBar } from './WorkBar';

export interface ProjectFrameProps {
  user: { name: string; email: string };
  role: 'viewer' | 'editor' | 'owner';
  project: { id: string; name: string; revision: number; isArchived: boolean };
  links: { [state in LinkState]: number };
  shapes: ShapeProgress;
  /** Assemblies are not what they were when they were drawn. */
  arePicturesOld: boolean;
  operations: RegistryEntry[];
}

/** The palette, and what asks for the password again, are fetched after the page. */
const Commands = later(async () => (await import('../../ui/frame/Commands')).Commands);
const SignInAgain = later(async () => (await import('./SignInAgain')).SignInAgain);

export function ProjectFrame({
  user,
  role,
  project,
  links,
  shapes,
  arePicturesOld,
  operations,
}: ProjectFrameProps) {
  const [selection, select] = useState<readonly FileToWorkOn[]>([]);
  const broken = brokenIn(links);
  useProjectEvents(project.id, project.revision, shapes.open);
  usePreparation(project.id, shapes.unasked, arePicturesOld);
  const sending = useSending(project.id);
  const mayEdit = role !== 'viewer' && !project.isArchived;
  const context: ProjectContext = {
    projectId: project.id,
    revision: project.revision,
    mayEdit,
    shapes,
    operations,
    select,
    sending,
  };
  const main = useRef<HTMLElement>(null);
  const isLost = useLost();
  const isOffline = useOffline();
  useWaitingNavigation(isLost);
  const { pathname } = useLocation();
  useFocusKept(main, pathname);
  // Also where somebody types.
  useHotkeys([['mod + K', () => void openFind()]], []);
  useKey('?', () => openKeys(true));
  const current = pathname.split('/')[3] ?? '';
  const places = placesOf(operations, current);
  const here = placeOf(places, current);
  const counts: PageCounts = {
    repair: { count: broken, of: ['broken link', 'broken links'], meaning: 'missing' },
    sources: {
      count: links.behind,
      of: ['file behind its source', 'files behind their source'],
      meaning: 'behind',
    },
  };
  return (
    <div className={classes.frame}>
      <a className={classes.skip} href="#main">
        Skip to the page
      </a>
      <Suspense>
        <Commands projectId={project.id} operations={operations} selection={selection} mayEdit={mayEdit} />
        <SignInAgain email={user.email} />
      </Suspense>
      <TopBar
        user={user.name}
        tools={
          <>
            <Running projectId={project.id} />
            <ProjectTools projectId={project.id} />
          </>
        }
      >
        <span className={classes.project} title={project.name}>
          {project.name}
        </span>
        {project.isArchived && (
          <Badge
            variant="light"
            color="gray"
            tt="none"
            title="Nothing in it changes until an owner takes it out"
          >
            Archived
          </Badge>
        )}
        <PlacesNav projectId={project.id} places={places} here={here} counts={counts} />
      </TopBar>
      {here && (
        <PagesNav projectId={project.id} place={here} counts={counts}>
          {shapes.open > 0 && (
            <span className={classes.progress} role="status">
              Preparing shapes: {shapes.total - shapes.open} of {shapes.total} files
            </span>
          )}
          {!mayEdit && <span className={classes.viewer}>You may look, not change</span>}
        </PagesNav>
      )}
      {(isLost || isOffline) && (
        <p className={classes.lost} role="status">
          {isOffline ? 'This browser is offline.' : 'The server does not answer.'} What you have typed stays
          here, and work that was begun goes on there.{' '}
          {isOffline ? 'It goes on by itself when the network is back.' : 'It is tried again by itself.'}
        </p>
      )}
      <SendingBar projectId={project.id} sending={sending} />
      <Voice />
      <WorkBar projectId={project.id} />
      <main ref={main} className={classes.view} id="main" tabIndex={-1}>
        <Outlet context={context} />
      </main>
    </div>
  );
}

/** Where the server does not answer, a page stays until it does: the next one could not be loaded. */
function useWaitingNavigation(isLost: boolean): void {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      (isLost || !navigator.onLine) && currentLocation.pathname !== nextLocation.pathname,
  );
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    let isWanted = true;
    void serverAnswers(() => isWanted).then(() => isWanted && blocker.proceed());
    return () => {
      isWanted = false;
    };
  }, [blocker]);
}

/** Listens to the project and reloads what is shown when it changed. */
function useProjectEvents(projectId: string, revision: number, open: number): void {
  const soon = useReloadSoon();
  const loaded = useRef({ revision, open });
  loaded.current = { revision, open };
  useEffect(() => {
    let isWanted = true;
    // What happened before one listened was not heard.
    const compare = async () => {
      const answer = await fetchPatiently(addressIn(projectId, 'standing'), {}, () => isWanted);
      if (!answer?.ok || !isWanted) return;
      const standing = (await answer.json()) as Standing;
      const { revision: seen, open: waiting } = loaded.current;
      if (standing.revision !== seen || standing.open !== waiting) soon();
    };
    const stop = listenTogether((event) => {
      if (event.type === 'listening') void compare();
      else if (event.type === 'silence') void serverAnswers(() => isWanted);
      else if (
        'project' in event &&
        event.project === projectId &&
        (event.type === 'changed' || (event.type === 'shape' && event.state !== 'running'))
      )
        soon();
    });
    void compare();
    return () => {
      isWanted = false;
      stop();
    };
  }, [projectId, soon]);
}

/** New files, and all of them after the kernel was renewed, get their shapes when somebody looks. */
function usePreparation(projectId: string, unasked: number, arePicturesOld: boolean): void {
  const { submit } = useFetcher();
  useEffect(() => {
    if (unasked > 0) void submit({ intent: 'begin' }, preparationOf(projectId));
  }, [projectId, unasked, submit]);
  useEffect(() => {
    if (arePicturesOld) void fetch(addressIn(projectId, 'portrait'), { method: 'POST' }).catch(() => {});
  }, [projectId, arePicturesOld]);
}
