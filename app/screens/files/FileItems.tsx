import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { folderOf } from '#core/files/links/paths';
import type { FileRow } from '#server/views/files-view';
import { OperationItems } from '../../ui/OperationItems';
import { withPaths } from '../../ui/paths-in-address';
import type { ProjectContext } from '../../ui/project-context';
import type { Ways } from './Bring';

/** What can be done with files, and with the folder of a single one, as entries of a menu. */
export function FileItems({ files, bring }: { files: readonly FileRow[]; bring: Ways }) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [file] = files;
  if (!file || files.length > 1 || !mayEdit) return <OperationItems files={files} />;
  const folder = folderOf(file.path);
  return (
    <>
      <OperationItems files={files} onNewVersion={bring.newVersion} />
      <Menu.Divider />
      <Menu.Label>{folder === '' ? 'The top folder' : `Folder ${folder}`}</Menu.Label>
      <Menu.Item onClick={() => bring.into(folder)}>Import into this folder…</Menu.Item>
      {folder !== '' && (
        <>
          <Menu.Item component={Link} to={withPaths(projectId, 'move', [folder])}>
            Rename or move the folder
          </Menu.Item>
          <Menu.Item component={Link} to={withPaths(projectId, 'delete', [folder])}>
            Delete the folder
          </Menu.Item>
        </>
      )}
    </>
  );
}
