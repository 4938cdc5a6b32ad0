import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { addressIn } from '../address/addresses';
import type { ProjectContext } from '../project/project-context';
import { OperationPage, type OperationPageProps } from './OperationPage';
import layout from './OperationPage.module.css';

interface ChosenFilesPageProps<Preview> extends Omit<OperationPageProps<Preview>, 'choices' | 'done'> {
  /** The heading: "Delete". */
  title: string;
  /** What nothing was chosen for: "to delete". Null where something was. */
  nothingTo: string | null;
  /** What stands between the heading and the table. */
  above?: React.ReactNode;
  table: React.ReactNode;
}

/** The page of an operation on files that were chosen elsewhere: those files, what becomes of them beside, and the way back. */
export function ChosenFilesPage<Preview>({
  title,
  nothingTo,
  above,
  table,
  ...page
}: ChosenFilesPageProps<Preview>) {
  const { projectId } = useOutletContext<ProjectContext>();
  const files = addressIn(projectId, 'files');
  if (nothingTo !== null)
    return (
      <div className={layout.blank}>
        <h1>Nothing chosen {nothingTo}</h1>
        <p className="muted">Select files on the Files page first; Ctrl and Shift select several.</p>
        <Button component={Link} to={files}>
          Go to Files
        </Button>
      </div>
    );
  return (
    <OperationPage
      choices={
        <>
          <h1 className={layout.heading}>{title}</h1>
          {above}
          <div className={layout.table}>{table}</div>
        </>
      }
      done={() => <Link to={files}>Open Files</Link>}
      {...page}
    />
  );
}
