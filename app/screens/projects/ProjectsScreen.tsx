import { Button, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { Form, Link, useRevalidator } from 'react-router';
import { brokenIn, type LinkState } from '#core/files/links/resolve';
import type { DeletedProject } from '#server/projects/life/life';
import type { InvitationToPerson } from '#server/projects/people/invitations';
import type { Health } from '#server/projects/scan/health';
import { addressIn } from '../../ui/address/addresses';
import { listenTogether } from '../../ui/connection/live-events';
import { useReloadSoon } from '../../ui/connection/useReload';
import { FormButton } from '../../ui/FormButton';
import { plural } from '../../ui/format';
import { TopBar } from '../../ui/frame/TopBar';
import { LinkCounts } from '../../ui/LinkMark';
import { Time } from '../../ui/measures/Time';
import { HealthOverTime } from '../../ui/project/HealthOverTime';
import { Star } from '../../ui/project/Star';
import classes from './Projects.module.css';

interface ProjectLine {
  id: string;
  name: string;
  description: string;
  role: string;
  changed: string;
  isArchived: boolean;
  isStarred: boolean;
  facts: ProjectFacts | null;
  /** Why there are no facts. */
  trouble: string | null;
}

interface ProjectFacts {
  files: number;
  roots: number;
  links: { [state in LinkState]: number };
  /** Pictures that there are of its root assemblies, and what each shows. */
  portraits: { path: string; shows: string }[];
  arePortraitsNew: boolean;
  health: readonly Health[];
}

interface ProjectsScreenProps {
  user: { name: string };
  projects: ProjectLine[];
  invitations: InvitationToPerson[];
  deleted: DeletedProject[];
  error?: string;
}

/** The projects that one is in, what one is invited to, and what can be brought back. */
export function ProjectsScreen({ user, projects, invitations, deleted, error }: ProjectsScreenProps) {
  const [naming, setNaming] = useState(projects.length === 0);
  usePortraits(projects);
  useNews();
  const archived = projects.filter(({ isArchived }) => isArchived);
  return (
    <>
      <TopBar user={user.name} />
      <main className={classes.page}>
        <div className={classes.head}>
          <h1 className={classes.title}>Projects</h1>
          {naming ? (
            <Form method="post" className={classes.new}>
              <input type="hidden" name="do" value="create" />
              <TextInput
                name="name"
                aria-label="Name of the new project"
                placeholder="Name of the new project"
                autoFocus
                required
                maxLength={120}
                error={error}
              />
              <Button type="submit">Create</Button>
            </Form>
          ) : (
            <Button variant="default" onClick={() => setNaming(true)}>
              New project
            </Button>
          )}
        </div>
        {error && !naming && <p role="alert">{error}</p>}
        <Invitations invitations={invitations} />
        {projects.length === 0 && (
          <p className="muted">
            You are in no project yet. Create one, then import a folder of linked STEP files.
          </p>
        )}
        <ProjectList projects={projects.filter(({ isArchived }) => !isArchived)} />
        {archived.length > 0 && (
          <details className={classes.folded}>
            <summary>{plural(archived.length, 'archived project')}</summary>
            <ProjectList projects={archived} />
          </details>
        )}
        {deleted.length > 0 && (
          <details className={classes.folded}>
            <summary>{plural(deleted.length, 'deleted project')}</summary>
            <ul className={classes.lines}>
              {deleted.map(({ id, name, until }) => (
                <li key={id}>
                  <span>
                    <b>{name}</b>
                    <br />
                    <span className="muted">
                      Gone for good on <Time iso={until} />
                    </span>
                  </span>
                  <FormButton fields={{ do: 'bring-back', id }} aria-label={`Bring back ${name}`}>
                    Bring back
                  </FormButton>
                </li>
              ))}
            </ul>
          </details>
        )}
      </main>
    </>
  );
}

/** What one is invited to, with the two answers. */
function Invitations({ invitations }: Pick<ProjectsScreenProps, 'invitations'>) {
  if (invitations.length === 0) return null;
  return (
    <ul className={classes.lines} aria-label="Invitations">
      {invitations.map(({ id, project, by, role }) => (
        <li key={id} data-invitation>
          <span>
            {by} invites you to <b>{project}</b> as {role}.
          </span>
          <FormButton fields={{ do: 'decline', id }} aria-label={`Decline to join ${project}`}>
            Decline
          </FormButton>
          <FormButton fields={{ do: 'join', id }} variant="filled" aria-label={`Join ${project}`}>
            Join
          </FormButton>
        </li>
      ))}
    </ul>
  );
}

function ProjectList({ projects }: Pick<ProjectsScreenProps, 'projects'>) {
  return (
    <ul className={classes.list}>
      {projects.map((project) => {
        const { facts } = project;
        const broken = facts ? brokenIn(facts.links) : 0;
        return (
          <li key={project.id} className={classes.item} data-broken={broken > 0 || undefined}>
            <Portraits id={project.id} portraits={facts?.portraits ?? []} />
            <Link to={addressIn(project.id, 'structure')} className={classes.name}>
              {project.name}
            </Link>
            <span className={classes.role}>
              {project.role}
              <Star projectId={project.id} name={project.name} isStarred={project.isStarred} />
            </span>
            <p className={classes.description}>{project.description || 'No description'}</p>
            {project.trouble !== null && <p role="alert">{project.trouble}</p>}
            <div className={classes.state}>
              {facts && <LinkCounts counts={facts.links} />}
              {broken > 0 && (
                <Link to={addressIn(project.id, 'repair')} className={classes.repair}>
                  Go to the Repair desk
                </Link>
              )}
              {facts && <HealthOverTime health={facts.health} isSmall />}
            </div>
            <p className={classes.facts}>
              {facts &&
                `${plural(facts.files, 'file')}, ${plural(facts.roots, 'root assembly', 'root assemblies')}. `}
              Last change <Time iso={project.changed} />
            </p>
          </li>
        );
      })}
    </ul>
  );
}

/** What the root assemblies look like; each leads to its structure. */
function Portraits({ id, portraits }: Pick<ProjectLine, 'id'> & Pick<ProjectFacts, 'portraits'>) {
  if (portraits.length === 0) return <div className={classes.portraits} data-empty />;
  return (
    <div className={classes.portraits}>
      {portraits.map(({ path, shows }) => (
        <Link key={path} to={addressIn(id, 'structure', { root: path })} title={path}>
          <img
            src={addressIn(id, 'portrait', { root: path, shows })}
            alt={`Open ${path}`}
            width={180}
            height={120}
            loading="lazy"
          />
        </Link>
      ))}
    </div>
  );
}

/** Hears of invitations, of roles that were given or taken, and of changes in any of the projects. */
function useNews(): void {
  const soon = useReloadSoon();
  useEffect(() => {
    let isSilent = false;
    return listenTogether(({ type }) => {
      // What happened meanwhile was not heard.
      if (type === 'person' || type === 'changed' || (type === 'listening' && isSilent)) soon();
      isSilent = type === 'silence';
    });
  }, [soon]);
}

/** Milliseconds between two looks for pictures that are being drawn, and how many looks. */
const [PAUSE, MOST_LOOKS] = [3000, 10];

/** Pictures that are out of date are drawn anew when somebody looks. */
function usePortraits(projects: readonly ProjectLine[]): void {
  const { revalidate } = useRevalidator();
  const asked = useRef(new Set<string>());
  const looks = useRef(0);
  useEffect(() => {
    const old = projects.filter(({ facts }) => facts && !facts.arePortraitsNew);
    if (old.length === 0) return;
    for (const { id } of old) {
      if (asked.current.has(id)) continue;
      asked.current.add(id);
      void fetch(addressIn(id, 'portrait'), { method: 'POST' }).catch(() => {});
    }
    if (looks.current++ >= MOST_LOOKS) return;
    const timer = setTimeout(() => void revalidate(), PAUSE);
    return () => clearTimeout(timer);
  }, [projects, revalidate]);
}
