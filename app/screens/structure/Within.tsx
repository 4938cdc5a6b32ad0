import { Link } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import { writePaths } from '../../ui/address/paths-in-address';
import classes from './Structure.module.css';

/** The assemblies that one came through, with the way back to each. */
export function Within({
  projectId,
  within,
  root,
}: {
  projectId: string;
  within: readonly string[];
  root: string;
}) {
  return (
    <nav className={classes.within} aria-label="Opened out of">
      {within.map((path, n) => (
        <span key={path}>
          <Link
            className="mono"
            to={addressIn(projectId, 'structure', {
              root: path,
              within: n > 0 ? writePaths(within.slice(0, n)) : null,
            })}
          >
            {path.split('/').at(-1)}
          </Link>{' '}
          ›{' '}
        </span>
      ))}
      <span className="mono" aria-current="page">
        {root.split('/').at(-1)}
      </span>
    </nav>
  );
}
