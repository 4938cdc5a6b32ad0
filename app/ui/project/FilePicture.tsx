import { useOutletContext } from 'react-router';
import { addressIn } from '../address/addresses';
import classes from './FilePicture.module.css';
import type { ProjectContext } from './project-context';

/** A small picture of a file in a row; blank where there is none, so that names stand below each other. */
export function FilePicture({ path, width = 28 }: { path: string; width?: number }) {
  const { projectId, revision } = useOutletContext<ProjectContext>();
  return (
    <img
      className={classes.picture}
      src={addressIn(projectId, 'picture', { path, version: String(revision), or: 'blank' })}
      alt=""
      width={width}
      height={(width * 3) / 4}
      loading="lazy"
    />
  );
}
