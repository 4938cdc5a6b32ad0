import { Button, Select, Textarea, TextInput } from '@mantine/core';
import { Form, useSubmit } from 'react-router';
import type { Member } from '#server/projects/members';
import classes from './People.module.css';

interface PeopleScreenProps {
  me: string;
  mayManage: boolean;
  project: { name: string; description: string; searchFolders: string[] };
  members: Member[];
  error?: string;
}

const ROLES = [
  { value: 'owner', label: 'owner: changes everything, and who may' },
  { value: 'editor', label: 'editor: changes files and links' },
  { value: 'viewer', label: 'viewer: looks and packages' },
];

/** Who may do what in the project, and what the project is called. */
export function PeopleScreen({ me, mayManage, project, members, error }: PeopleScreenProps) {
  const submit = useSubmit();
  return (
    <div className={classes.page}>
      <h1 className={classes.title}>People</h1>
      {error && (
        <p className={classes.error} role="alert">
          {error}
        </p>
      )}
      <ul className={classes.list}>
        {members.map(({ id, name, email, role }) => (
          <li key={id}>
            <span>
              <b>{name}</b>
              {id === me && <span className="muted"> (you)</span>}
              <br />
              <span className="muted">{email}</span>
            </span>
            {mayManage ? (
              <>
                <Select
                  aria-label={`Role of ${name}`}
                  data={ROLES}
                  value={role}
                  allowDeselect={false}
                  className={classes.role}
                  onChange={(value) =>
                    value && void submit({ do: 'set', email, role: value }, { method: 'post' })
                  }
                />
                <Form method="post">
                  <input type="hidden" name="do" value="remove" />
                  <input type="hidden" name="user" value={id} />
                  <Button type="submit" variant="default">
                    Remove
                  </Button>
                </Form>
              </>
            ) : (
              <span>{role}</span>
            )}
          </li>
        ))}
      </ul>
      {mayManage && (
        <>
          <Form method="post" className={classes.add} key={members.length}>
            <input type="hidden" name="do" value="set" />
            <TextInput
              name="email"
              type="email"
              label="Add somebody by e-mail"
              required
              className={classes.wide}
            />
            <Select
              name="role"
              label="As"
              data={ROLES}
              defaultValue="editor"
              allowDeselect={false}
              className={classes.role}
            />
            <Button type="submit">Add</Button>
          </Form>
          <h2 className={classes.title}>Project</h2>
          <Form method="post" className={classes.settings}>
            <input type="hidden" name="do" value="project" />
            <TextInput name="name" label="Name" defaultValue={project.name} required maxLength={120} />
            <TextInput
              name="description"
              label="Description"
              defaultValue={project.description}
              maxLength={500}
            />
            <Textarea
              name="searchFolders"
              size="xs"
              label="Search folders"
              description="Where files are looked for when they are not where a link says. One folder a line; the first that has the file wins."
              defaultValue={project.searchFolders.join('\n')}
              autosize
              minRows={2}
            />
            <Button type="submit" className={classes.save}>
              Save
            </Button>
          </Form>
        </>
      )}
    </div>
  );
}
