import { Outlet, useOutletContext } from 'react-router';
import { RouteErrorPage } from '../ui/frame/ErrorPage';
import type { Route } from './+types/project-view';

/** Holds the views of a project, so that one that fails leaves the frame with its header standing. */
export default function ProjectView() {
  return <Outlet context={useOutletContext()} />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return (
    <RouteErrorPage
      error={error}
      defect="This view could not be shown. It is our fault, not yours, and was logged. Looking changes nothing; what you had asked for before goes on. Reload the page, or go on in another view."
    />
  );
}
