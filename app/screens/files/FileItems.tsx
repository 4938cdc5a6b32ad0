import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { folderOf } from '#core/files/links/paths';
import type { FileRow } from '#server/views/packed/packed-rows';
import { OperationItems } from '../../ui/operation/OperationItems';
import { addressOf } from '../../ui/operation/operations';
import type { ProjectContext } from '../../ui/project/project-context';
import type { Ways } from './Bring';

/** What can be done with files, and with the folder of a single one, as entries of a menu. */
export function FileItems({ files, bring }: { files: readonly FileRow[]; bring: Ways }) {
  const { projectId, mayEdit, operations } = useOutletContext<ProjectContext>();
  const [file] = files;
  if (!file || files.length > 1 || !mayEdit) return <OperationItems files={files} />;
  const folder = folderOf(file.path);
  return (
    <>
      <OperationItems files={files} onNewVersion={bring.newVersion} />
      <Menu.Divider />
      <Menu.Label>{folder === '' ? 'The top folder' : `Folder ${folder}`}</Menu.Label>
      <Menu.Item onClick={() => bring.into(folder)}>Import into this folder…</Menu.Item>
      {folder !== '' &&
        operations
          .filter(({ accepts }) => accepts.folders)
          .map((entry) => (
            <Menu.Item key={entry.name} component={Link} to={addressOf(projectId, entry, [folder])}>
              {entry.title} the folder
            </Menu.Item>
          ))}
    </>
  );
}
