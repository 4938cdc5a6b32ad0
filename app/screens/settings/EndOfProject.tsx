import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Form, useOutletContext } from 'react-router';
import type { ProjectSize } from '#server/projects/life/life';
import { addressIn } from '../../ui/address/addresses';
import { FormButton } from '../../ui/FormButton';
import { plural } from '../../ui/format';
import { useMeasures } from '../../ui/measures/useMeasures';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Settings.module.css';

interface EndOfProjectProps {
  project: { isArchived: boolean; name: string };
  size: ProjectSize;
}

/** What owners do with a project as a whole: take it away, put it to rest, delete it. */
export function EndOfProject({ project, size }: EndOfProjectProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [isDeleting, setDeleting] = useState(false);
  const all = `${plural(size.files, 'file')} in ${plural(size.versions, 'version')} (${useMeasures().bytes(size.bytes)})`;
  return (
    <>
      <h2 className={classes.title}>The whole project</h2>
      <ul className={classes.whole} aria-label="The whole project">
        <li>
          <span>
            <b>Export</b>
            <br />
            <span className="muted">A zip with {all}, every change and who made it.</span>
          </span>
          <Button component="a" href={addressIn(projectId, 'export.zip')} download variant="default">
            Download
          </Button>
        </li>
        <li>
          <span>
            <b>{project.isArchived ? 'In the archive' : 'Archive'}</b>
            <br />
            <span className="muted">
              {project.isArchived
                ? 'Everybody can look and package; nothing in it changes.'
                : 'Everybody can still look and package; nothing in it changes until it is taken out again.'}
            </span>
          </span>
          <FormButton fields={{ do: project.isArchived ? 'unarchive' : 'archive' }}>
            {project.isArchived ? 'Take out of the archive' : 'Archive it'}
          </FormButton>
        </li>
        <li>
          <span>
            <b>Delete</b>
            <br />
            <span className="muted">
              {all} go
              {size.offered > 0 && `, and ${plural(size.offered, 'file')} in the catalogue`}. For 30 days you
              can bring it back, on the page Projects.
            </span>
          </span>
          {!isDeleting && (
            <Button variant="default" onClick={() => setDeleting(true)}>
              Delete it …
            </Button>
          )}
          {isDeleting && (
            <Form method="post" className={classes.delete}>
              <input type="hidden" name="do" value="delete" />
              <TextInput
                name="name"
                label={`Type ${project.name} to delete it`}
                autoComplete="off"
                autoFocus
                required
                className={classes.wide}
              />
              <Button type="submit">Delete the project</Button>
              <Button variant="default" onClick={() => setDeleting(false)}>
                Keep it
              </Button>
            </Form>
          )}
        </li>
      </ul>
    </>
  );
}
