import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { addressIn } from '../address/addresses';
import { useView } from '../address/useView';
import layout from '../operation/OperationPage.module.css';
import { Select } from '../options';
import type { ProjectContext } from './project-context';
import classes from './WholeHead.module.css';

/** The heading of a page that works on everything below a file, with the choice of that file. */
export function WholeHead({
  title,
  label,
  root,
  roots,
}: {
  title: string;
  /** What the file is chosen for, in words. */
  label: string;
  root: string;
  roots: readonly string[];
}) {
  const [, change] = useView();
  return (
    <div className={classes.head}>
      <h1>{title}</h1>
      <Select
        aria-label={label}
        data={[...roots]}
        value={root}
        onChange={(value) => change({ file: value })}
        allowDeselect={false}
        searchable
      />
    </div>
  );
}

/** The same page where the project holds nothing to work on. */
export function NothingToGive({ title, words }: { title: string; words: string }) {
  const { projectId } = useOutletContext<ProjectContext>();
  return (
    <div className={layout.blank}>
      <h1>{title}</h1>
      <p className="muted">Import an assembly first. {words}</p>
      <Button component={Link} to={addressIn(projectId, 'files')}>
        Go to Files
      </Button>
    </div>
  );
}
