import { Button, PasswordInput, TextInput } from '@mantine/core';
import { Form, useNavigation } from 'react-router';
import { Wordmark } from '../../ui/frame/Wordmark';
import classes from './SignIn.module.css';

export function SignInScreen({
  demo,
  error,
}: {
  demo: { email: string; password: string } | null;
  error?: string;
}) {
  const busy = useNavigation().state !== 'idle';
  return (
    <main className={classes.page}>
      <div className={classes.card}>
        <Wordmark />
        <h1 className={classes.title}>Keep every link whole.</h1>
        <p className={classes.lead}>
          Stone Tray tracks, repairs and packages the links between the files of an assembly.
        </p>
        <Form method="post" className={classes.form}>
          <TextInput
            name="email"
            type="email"
            label="E-mail"
            size="sm"
            autoComplete="username"
            defaultValue={demo?.email}
            required
          />
          <PasswordInput
            name="password"
            label="Password"
            size="sm"
            autoComplete="current-password"
            defaultValue={demo?.password}
            required
          />
          {error && (
            <p className={classes.error} role="alert">
              {error}
            </p>
          )}
          <Button type="submit" size="sm" loading={busy}>
            Sign in
          </Button>
        </Form>
        {demo && (
          <p className={classes.note}>
            Demo mode: the sign-in is filled in for you, and all data is made up.
          </p>
        )}
        <p className={classes.note}>
          <a href="/third-party.txt">What others made of this, and their licences</a>
        </p>
      </div>
    </main>
  );
}
