import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import { addressOf, operationsFor } from './operations';
import type { ProjectContext } from './project-context';

/** What can be done with some files, as entries of a menu; from the registry of operations. */
export function OperationItems({ files }: { files: readonly FileToWorkOn[] }) {
  const { projectId, mayEdit, operations } = useOutletContext<ProjectContext>();
  const fitting = operationsFor(operations, files, mayEdit);
  const paths = files.map(({ path }) => path);
  if (fitting.length === 0) return <Menu.Label>Nothing can be done with it here</Menu.Label>;
  return fitting.map((entry) => (
    <Menu.Item
      key={entry.name}
      component={Link}
      to={addressOf(projectId, entry, paths)}
      title={entry.purpose}
    >
      {entry.title}
    </Menu.Item>
  ));
}
