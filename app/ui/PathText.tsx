import classes from './PathText.module.css';

/** A path whose file name stays readable: where room is short, the folder is cut, not the name. */
export function PathText({ path, quiet }: { path: string; quiet?: boolean }) {
  const at = path.lastIndexOf('/') + 1;
  return (
    <span className={classes.path} title={path} data-quiet={quiet || undefined}>
      {at > 0 && <span className={classes.folder}>{path.slice(0, at)}</span>}
      <span className={classes.name}>{path.slice(at)}</span>
    </span>
  );
}
