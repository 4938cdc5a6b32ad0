import { Button, Modal, PasswordInput, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link, useLocation } from 'react-router';
import { signedInAgain, useSignedOut } from '../../ui/connection/connection';
import { wordsOf } from '../../ui/connection/json-request';
import classes from './SignInAgain.module.css';

/** Asks for the password when the session has ended. The page stays as it is, and what it asked for goes on afterwards. */
export function SignInAgain({ email }: { email: string }) {
  const isSignedOut = useSignedOut();
  const { pathname, search } = useLocation();
  const [password, setPassword] = useState('');
  const [error, setError] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const send = async (event: React.FormEvent) => {
    event.preventDefault();
    setBusy(true);
    setError(null);
    try {
      const answer = await fetch('/session', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ email, password }),
      });
      if (!answer.ok) throw new Error(await wordsOf(answer));
      setPassword('');
      signedInAgain();
    } catch (trouble) {
      setError(trouble instanceof Error ? trouble.message : String(trouble));
    }
    setBusy(false);
  };
  return (
    <Modal
      opened={isSignedOut}
      onClose={() => {}}
      withCloseButton={false}
      closeOnEscape={false}
      closeOnClickOutside={false}
      title="Your session has ended"
      size="sm"
    >
      <form onSubmit={(event) => void send(event)} className={classes.form}>
        <p>Sign in again and go on where you are: what you have typed stays.</p>
        <TextInput label="E-mail" value={email} readOnly autoComplete="username" />
        <PasswordInput
          label="Password"
          value={password}
          onChange={(event) => setPassword(event.currentTarget.value)}
          autoComplete="current-password"
          required
          data-autofocus
        />
        {error && (
          <p className={classes.error} role="alert">
            {error}
          </p>
        )}
        <Button type="submit" loading={isBusy}>
          Sign in
        </Button>
        <Link to={`/sign-in?next=${encodeURIComponent(pathname + search)}`} reloadDocument>
          Sign in as somebody else
        </Link>
      </form>
    </Modal>
  );
}
