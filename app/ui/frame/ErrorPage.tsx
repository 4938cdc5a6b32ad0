import { Button } from '@mantine/core';
import { useEffect } from 'react';
import { isRouteErrorResponse, Link, useRevalidator } from 'react-router';
import { isNetworkError, serverAnswers } from '../connection/connection';
import classes from './ErrorPage.module.css';

interface ErrorPageProps {
  status?: number;
  title: string;
  message: string;
}

/** A page that cannot be shown: what is wrong and where to go on. */
function ErrorPage({ status, title, message }: ErrorPageProps) {
  return (
    <div className={classes.page}>
      {status !== undefined && <p className={classes.status}>{status}</p>}
      <h1 className={classes.title}>{title}</h1>
      <p className={classes.message}>{message}</p>
      <Button component={Link} to="/projects">
        To your projects
      </Button>
    </div>
  );
}

const TITLES: { readonly [status: number]: string } = {
  403: 'Not allowed',
  404: 'Not here',
  503: 'The database does not answer',
};

/** The page for what a route threw: an answer in its own words, no answer at all, or anything else in words for a defect of ours. */
export function RouteErrorPage({ error, defect }: { error: unknown; defect: string }) {
  const { revalidate } = useRevalidator();
  const isAway = isRouteErrorResponse(error) && error.status === 503;
  const isLost = isNetworkError(error) || isAway;
  useEffect(() => {
    if (!isLost) return;
    let isWanted = true;
    void serverAnswers(() => isWanted).then(() => {
      if (isWanted) void revalidate();
    });
    return () => {
      isWanted = false;
    };
  }, [isLost, revalidate]);
  if (isLost && !isAway)
    return (
      <ErrorPage
        title="The server does not answer"
        message="The page comes by itself as soon as it does. Work that was begun goes on there, and its end is looked up then."
      />
    );
  if (!isRouteErrorResponse(error))
    return <ErrorPage status={500} title="This did not work" message={defect} />;
  const { status, data, statusText } = error;
  return (
    <ErrorPage
      status={status}
      title={TITLES[status] ?? 'This did not work'}
      message={typeof data === 'string' ? data : statusText}
    />
  );
}
