import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { hasStructure } from '#core/project/formats/endings';
import { addressIn } from '../address/addresses';
import type { ProjectContext } from '../project/project-context';
import { addressOf } from './operations';

/** What can be done with a file that a page of something else names, as entries of a menu: its place is where all of it is. */
export function PathItems({ path }: { path: string | null | undefined }) {
  const { projectId, operations } = useOutletContext<ProjectContext>();
  if (!path) return <Menu.Label>It is in no file of its own</Menu.Label>;
  return (
    <>
      <Menu.Item component={Link} to={addressIn(projectId, 'files', { sel: path })}>
        Show it in Files
      </Menu.Item>
      {hasStructure(path) && (
        <Menu.Item component={Link} to={addressIn(projectId, 'structure', { root: path })}>
          Open its structure
        </Menu.Item>
      )}
      {operations
        .filter(({ kind, accepts }) => kind === 'report' && accepts.what === 'files')
        .map((entry) => (
          <Menu.Item
            key={entry.name}
            component={Link}
            to={addressOf(projectId, entry, [path])}
            title={entry.purpose}
          >
            {entry.title}
          </Menu.Item>
        ))}
      <Menu.Item component="a" href={addressIn(projectId, 'latest', { path })}>
        Download
      </Menu.Item>
    </>
  );
}
