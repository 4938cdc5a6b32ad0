import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import { addressIn } from '../address/addresses';
import { inAddress } from '../address/long-values';
import { writePaths } from '../address/paths-in-address';
import type { ProjectContext } from '../project/project-context';
import { pickFiles, sendNewVersion } from '../sending/bring';
import { addressOf, operationsFor } from './operations';

interface OperationItemsProps {
  files: readonly FileToWorkOn[];
  /** Takes a new version of a file; the person is asked for one otherwise. */
  onNewVersion?: (path: string) => void;
}

/**
 * What can be done with some files, as entries of a menu: a new version of a single one, what the registry of operations has, and
 * getting it.
 */
export function OperationItems({ files, onNewVersion }: OperationItemsProps) {
  const { projectId, mayEdit, operations, sending } = useOutletContext<ProjectContext>();
  const fitting = operationsFor(operations, files, mayEdit);
  const paths = files.map(({ path }) => path);
  const [single, ...more] = paths;
  const path = more.length === 0 ? single : undefined;
  if (single === undefined) return <Menu.Label>There is no file to work on</Menu.Label>;
  const replace = (target: string) =>
    onNewVersion ? onNewVersion(target) : pickFiles((picked) => sendNewVersion(target, picked, sending));
  return (
    <>
      {mayEdit && path !== undefined && (
        <Menu.Item onClick={() => replace(path)}>New version of this file…</Menu.Item>
      )}
      {fitting.map((entry) => (
        <Menu.Item
          key={entry.name}
          component={Link}
          to={addressOf(projectId, entry, paths)}
          title={entry.purpose}
        >
          {entry.title}
        </Menu.Item>
      ))}
      <Menu.Item
        component="a"
        href={
          path === undefined
            ? addressIn(projectId, 'files.zip', { what: inAddress(projectId, writePaths(paths)) })
            : addressIn(projectId, 'latest', { path })
        }
      >
        {path === undefined ? `Download ${paths.length} files as a zip` : 'Download'}
      </Menu.Item>
    </>
  );
}
