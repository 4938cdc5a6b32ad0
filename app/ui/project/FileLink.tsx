import { Link } from 'react-router';
import { addressIn } from '../address/addresses';

/** A file, leading to its place in the table of files; where a link leads nowhere, what it says. */
export function FileLink({
  projectId,
  path,
  written = '',
}: {
  projectId: string;
  path: string | null;
  written?: string;
}) {
  if (path === null) return <span className="mono">{written}</span>;
  return (
    <Link className="mono" to={addressIn(projectId, 'files', { sel: path })}>
      {path}
    </Link>
  );
}
