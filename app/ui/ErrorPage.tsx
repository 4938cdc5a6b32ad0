import { Button } from '@mantine/core';
import { Link } from 'react-router';
import classes from './ErrorPage.module.css';

/** A page that cannot be shown: what is wrong and where to go on. */
export function ErrorPage({ status, message }: { status: number; message: string }) {
  return (
    <main className={classes.page}>
      <p className={classes.status}>{status}</p>
      <h1 className={classes.title}>
        {status === 404 ? 'Not here' : status === 403 ? 'Not allowed' : 'This did not work'}
      </h1>
      <p className={classes.message}>{message}</p>
      <Button component={Link} to="/projects">
        To your projects
      </Button>
    </main>
  );
}
