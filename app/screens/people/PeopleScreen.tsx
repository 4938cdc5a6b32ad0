import { Button, TextInput } from '@mantine/core';
import { Form, useSubmit } from 'react-router';
import type { Invitation } from '#server/projects/people/invitations';
import type { Member } from '#server/projects/people/members';
import { FormButton } from '../../ui/FormButton';
import { Time } from '../../ui/measures/Time';
import { Select } from '../../ui/options';
import classes from './People.module.css';

export interface PeopleScreenProps {
  me: string;
  mayManage: boolean;
  members: Member[];
  invitations: Invitation[];
  error?: string;
}

const ROLES = [
  { value: 'owner', label: 'owner: changes everything, and who may' },
  { value: 'editor', label: 'editor: changes files and links' },
  { value: 'viewer', label: 'viewer: looks and packages' },
];

/** Who may do what in the project. */
export function PeopleScreen({ me, mayManage, members, invitations, error }: PeopleScreenProps) {
  return (
    <div className={classes.page}>
      <h1 className={classes.title}>People</h1>
      {error && (
        <p className={classes.error} role="alert">
          {error}
        </p>
      )}
      <Members me={me} mayManage={mayManage} members={members} />
      {mayManage && (
        <>
          <Form method="post" className={classes.add} key={invitations.length}>
            <input type="hidden" name="do" value="invite" />
            <TextInput
              name="email"
              type="email"
              label="Invite somebody by e-mail address"
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
            <Button type="submit">Invite</Button>
          </Form>
          <Invitations invitations={invitations} />
        </>
      )}
    </div>
  );
}

function Members({ me, mayManage, members }: Pick<PeopleScreenProps, 'me' | 'mayManage' | 'members'>) {
  const submit = useSubmit();
  return (
    <ul className={classes.list} aria-label="Members">
      {members.map(({ id, name, email, role }) => (
        <li key={id}>
          <span>
            <b>{name}</b>
            {id === me && <span className="muted"> (you)</span>}
            <br />
            <span className="muted">{email}</span>
          </span>
          {mayManage ? (
            <Select
              aria-label={`Role of ${name}`}
              data={ROLES}
              value={role}
              allowDeselect={false}
              className={classes.role}
              onChange={(value) =>
                value && void submit({ do: 'role', user: id, role: value }, { method: 'post' })
              }
            />
          ) : (
            <span>{role}</span>
          )}
          {id === me ? (
            <FormButton fields={{ do: 'leave' }}>Leave the project</FormButton>
          ) : (
            mayManage && (
              <FormButton fields={{ do: 'remove', user: id }} aria-label={`Remove ${name}`}>
                Remove
              </FormButton>
            )
          )}
        </li>
      ))}
    </ul>
  );
}

/** Who was invited and has not answered. */
function Invitations({ invitations }: Pick<PeopleScreenProps, 'invitations'>) {
  return (
    <>
      <p className="muted">
        Whoever has the address finds the invitation on the page Projects, and joins there; it is open for 30
        days.
      </p>
      {invitations.length > 0 && (
        <ul className={classes.list} aria-label="Open invitations">
          {invitations.map(({ id, email, role, time: sent }) => (
            <li key={id}>
              <span>
                {email}
                <br />
                <span className="muted">
                  Invited <Time iso={sent} />
                </span>
              </span>
              <span>{role}</span>
              <FormButton
                fields={{ do: 'take-back', id }}
                aria-label={`Take back the invitation of ${email}`}
              >
                Take back
              </FormButton>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
