import { Button, Textarea, TextInput } from '@mantine/core';
import { Form, useNavigation } from 'react-router';
import type { ProjectSize } from '#server/projects/life/life';
import { plural } from '../../ui/format';
import { EndOfProject } from './EndOfProject';
import classes from './Settings.module.css';

export interface SettingsScreenProps {
  mayManage: boolean;
  project: { name: string; description: string; searchFolders: string[]; isArchived: boolean };
  size: ProjectSize;
  error?: string;
  /** What was written has just been kept. */
  isSaved?: boolean;
}

/** What the project is called, where its files are looked for, and what is done with it as a whole. */
export function SettingsScreen({ mayManage, project, size, error, isSaved = false }: SettingsScreenProps) {
  const isBusy = useNavigation().state !== 'idle';
  const { name, description, searchFolders } = project;
  return (
    <div className={classes.page}>
      <h1 className={classes.title}>Project</h1>
      {error && (
        <p className={classes.error} role="alert">
          {error}
        </p>
      )}
      {mayManage ? (
        <>
          <Form method="post" className={classes.settings}>
            <input type="hidden" name="do" value="project" />
            <TextInput name="name" label="Name" defaultValue={name} required maxLength={120} />
            <TextInput name="description" label="Description" defaultValue={description} maxLength={500} />
            <Textarea
              name="searchFolders"
              size="xs"
              label="Search folders"
              description="Where files are looked for when they are not where a link says. One folder a line; the first that has the file wins."
              defaultValue={searchFolders.join('\n')}
              autosize
              minRows={2}
            />
            <div className={classes.save}>
              <Button type="submit" disabled={isBusy}>
                Save
              </Button>
              {isSaved && !isBusy && <span role="status">Saved.</span>}
            </div>
          </Form>
          <EndOfProject project={project} size={size} />
        </>
      ) : (
        <dl className={classes.facts}>
          <dt>Name</dt>
          <dd>{name}</dd>
          <dt>Description</dt>
          <dd>{description || 'none'}</dd>
          <dt>Search folders</dt>
          <dd className="mono">{searchFolders.join(', ') || 'none'}</dd>
          <dt>Size</dt>
          <dd>
            {plural(size.files, 'file')} in {plural(size.versions, 'version')}
          </dd>
        </dl>
      )}
    </div>
  );
}
