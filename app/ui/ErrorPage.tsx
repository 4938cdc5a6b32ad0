import { Button } from '@mantine/core';
import { isRouteErrorResponse, Link } from 'react-router';
import classes from './ErrorPage.module.css';

/** A page that cannot be shown: what is wrong and where to go on. */
function ErrorPage({ status, message }: { status: number; message: string }) {
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

/** The page for what a route threw: an answer in its own words, anything else in words for a defect of ours. */
export function RouteErrorPage({ error, defect }: { error: unknown; defect: string }) {
  if (!isRouteErrorResponse(error)) return <ErrorPage status={500} message={defect} />;
  const message = typeof error.data === 'string' ? error.data : error.statusText;
  return <ErrorPage status={error.status} message={message} />;
}
