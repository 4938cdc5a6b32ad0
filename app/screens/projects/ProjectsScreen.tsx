import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Form, Link } from 'react-router';
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
