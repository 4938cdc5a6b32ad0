import { Badge, Button, PasswordInput } from '@mantine/core';
import { Form, useNavigation } from 'react-router';
import { FormButton } from '../../ui/FormButton';
import { TopBar } from '../../ui/frame/TopBar';
import { Time } from '../../ui/measures/Time';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Account.module.css';
import { browserInWords } from './browser-in-words';
import { NumbersAndTimes } from './NumbersAndTimes';

interface AccountProps {
  user: { name: string; email: string };
  sessions: { id: string; opened: string; seen: string; browser: string; isThis: boolean }[];
  /** Why something could not be done. */
  error?: string;
  /** What was done. */
  done?: string;
}

/** Who one is here, where one is signed in, and one's password. */
export function AccountScreen({ user, sessions, error, done }: AccountProps) {
  const { time } = useMeasures();
  const isBusy = useNavigation().state !== 'idle';
  return (
    <>
      <TopBar user={user.name} />
      <main className={classes.page}>
        <h1>{user.name}</h1>
        <p className="muted">{user.email}</p>
        {error && (
          <p className={classes.error} role="alert">
            {error}
          </p>
        )}
        <NumbersAndTimes isBusy={isBusy} isDone={done === 'preferences'} />
        <section aria-label="Where you are signed in">
          <div className={classes.head}>
            <h2>Where you are signed in</h2>
            <FormButton fields={{ do: 'end-others' }} disabled={isBusy || sessions.length < 2}>
              End all others
            </FormButton>
          </div>
          <ul className={classes.list}>
            {sessions.map(({ id, opened, seen, browser, isThis }) => (
              <li key={id}>
                <div>
                  <strong>{browserInWords(browser)}</strong>{' '}
                  {isThis && (
                    <Badge variant="light" tt="none">
                      this one
                    </Badge>
                  )}
                  <p className="muted">
                    Since <Time iso={opened} />, used last <Time iso={seen} />
                  </p>
                </div>
                {!isThis && (
                  <FormButton
                    fields={{ do: 'end', id }}
                    size="compact-sm"
                    disabled={isBusy}
                    aria-label={`End it: the session in ${browserInWords(browser)} since ${time(opened)}`}
                  >
                    End it
                  </FormButton>
                )}
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="Password">
          <h2>Password</h2>
          {done === 'password' ? (
            <p role="status">The password is a new one, and all other sessions have ended.</p>
          ) : (
            <Form method="post" className={classes.password}>
              <input type="hidden" name="do" value="password" />
              <PasswordInput
                name="before"
                label="Present password"
                autoComplete="current-password"
                required
              />
              <PasswordInput
                name="after"
                label="New password"
                description="10 characters or more. All other sessions end."
                autoComplete="new-password"
                minLength={10}
                required
              />
              <Button type="submit" disabled={isBusy}>
                Change it
              </Button>
            </Form>
          )}
        </section>
      </main>
    </>
  );
}
