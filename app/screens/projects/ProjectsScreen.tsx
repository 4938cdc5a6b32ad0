import { Button, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { Form, Link, useRevalidator } from 'react-router';
import type { LinkState } from '#core/links/resolve';
import { addressIn } from '../../ui/addresses';
import { plural, time } from '../../ui/format';
import { LinkCounts } from '../../ui/LinkMark';
import { TopBar } from '../../ui/TopBar';
import classes from './Projects.module.css';

interface ProjectLine {
  id: string;
  name: string;
  description: string;
  role: string;
  changed: string;
  files: number;
  roots: number;
  links: { [state in LinkState]: number };
  /** Pictures that there are of its root assemblies, and what each shows. */
  portraits: { path: string; shows: string }[];
  arePortraitsNew: boolean;
}

export function ProjectsScreen({
  user,
  projects,
  error,
}: {
  user: { name: string };
  projects: ProjectLine[];
  error?: string;
}) {
  const [naming, setNaming] = useState(projects.length === 0);
  usePortraits(projects);
  return (
    <>
      <TopBar user={user.name} />
      <main className={classes.page}>
        <div className={classes.head}>
          <h1 className={classes.title}>Projects</h1>
          {naming ? (
            <Form method="post" className={classes.new}>
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
        {projects.length === 0 && (
          <p className="muted">
            You are in no project yet. Create one, then import a folder of linked STEP files.
          </p>
        )}
        <ul className={classes.list}>
          {projects.map((project) => {
            const broken = project.links.missing + project.links.ambiguous + project.links.loop;
            return (
              <li key={project.id} className={classes.item} data-broken={broken > 0 || undefined}>
                <Portraits project={project} />
                <Link to={addressIn(project.id, 'structure')} className={classes.name}>
                  {project.name}
                </Link>
                <span className={classes.role}>{project.role}</span>
                <p className={classes.description}>{project.description || 'No description'}</p>
                <div className={classes.state}>
                  <LinkCounts counts={project.links} />
                  {broken > 0 && (
                    <Link to={addressIn(project.id, 'repair')} className={classes.repair}>
                      Go to the Repair desk
                    </Link>
                  )}
                </div>
                <p className={classes.facts}>
                  {plural(project.files, 'file')}, {plural(project.roots, 'root assembly', 'root assemblies')}
                  . Last change {time(project.changed)}
                </p>
              </li>
            );
          })}
        </ul>
      </main>
    </>
  );
}

/** What the root assemblies look like; each leads to its structure. */
function Portraits({ project: { id, portraits } }: { project: ProjectLine }) {
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

/** Milliseconds between two looks for pictures that are being drawn, and how many looks. */
const [PAUSE, MOST_LOOKS] = [3000, 10];

/** Pictures that are out of date are drawn anew when somebody looks. */
function usePortraits(projects: readonly ProjectLine[]): void {
  const { revalidate } = useRevalidator();
  const asked = useRef(new Set<string>());
  const looks = useRef(0);
  useEffect(() => {
    const old = projects.filter(({ arePortraitsNew }) => !arePortraitsNew);
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
