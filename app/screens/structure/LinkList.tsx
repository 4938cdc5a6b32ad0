import { Link } from 'react-router';
import { addressIn } from '../../ui/address/addresses';
import { LinkMark } from '../../ui/LinkMark';
import { FileLink } from '../../ui/project/FileLink';
import classes from './FactsDrawer.module.css';

/** Links from or to a file, each with its state. */
export function LinkList({
  links,
  empty,
  projectId,
}: {
  links: {
    text: string;
    /** Where it leads; null where it leads nowhere. */
    path: string | null;
    /** What it leads to has a structure of its own. */
    isComponent: boolean;
    state: Parameters<typeof LinkMark>[0]['state'];
    reason: string;
  }[];
  empty: string;
  projectId: string;
}) {
  if (links.length === 0) return <p className="muted">{empty}</p>;
  return (
    <ul className={classes.list}>
      {links.map(({ text, path, isComponent, state, reason }) => (
        <li key={`${text} ${path}`}>
          <LinkMark state={state} />
          {path !== null && isComponent ? (
            <Link className="mono" to={addressIn(projectId, 'structure', { root: path })}>
              {path}
            </Link>
          ) : (
            <FileLink projectId={projectId} path={path} written={text} />
          )}
          <span className="muted">{reason}</span>
        </li>
      ))}
    </ul>
  );
}
