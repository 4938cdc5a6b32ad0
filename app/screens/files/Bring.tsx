import { Button, Menu } from '@mantine/core';
import { IconUpload } from '@tabler/icons-react';
import { useRef } from 'react';
import { useOutletContext } from 'react-router';
import { joinPath } from '#core/files/links/paths';
import { usePageCommands } from '../../ui/frame/page-commands';
import type { ProjectContext } from '../../ui/project/project-context';
import { sendNewVersion } from '../../ui/sending/bring';
import { DropZone } from '../../ui/sending/DropZone';
import { filesOfInput, type Upload } from '../../ui/sending/upload';
import classes from './Files.module.css';

/** Other ways to begin an import. */
export interface Ways {
  /** A picked file becomes the newest version of one that is there, whatever it is called outside. */
  newVersion(path: string): void;
  /** What is picked goes into a folder. */
  into(folder: string): void;
}

interface BringProps {
  startOpen: boolean;
  children: (button: React.ReactNode, ways: Ways) => React.ReactNode;
}

/** Takes files by picker or by dropping, and sends them: what they would change is then shown on a page of its own. */
export function Bring({ startOpen, children }: BringProps) {
  const { mayEdit, sending } = useOutletContext<ProjectContext>();
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  /** Where what is picked next shall go: the place of one file, or a folder. */
  const meant = useRef<{ path: string } | { folder: string } | null>(null);

  const take = (uploads: Upload[]) => {
    const target = meant.current;
    meant.current = null;
    if (uploads.length === 0) return;
    if (target === null) return sending.send(uploads);
    if ('folder' in target)
      return sending.send(uploads.map(({ path, file }) => ({ path: joinPath(target.folder, path), file })));
    sendNewVersion(target.path, uploads, sending);
  };
  const pick = (target: typeof meant.current, input = files) => {
    meant.current = target;
    input.current?.click();
  };
  const ways: Ways = {
    newVersion: (path) => pick({ path }),
    into: (into) => pick({ folder: into }),
  };
  usePageCommands([
    mayEdit && {
      label: 'Import a folder',
      description: 'From this computer, with a look at what it changes',
      run: () => pick(null, folder),
    },
    mayEdit && {
      label: 'Import files, a zip or a package',
      description: 'From this computer, with a look at what they change',
      run: () => pick(null),
    },
  ]);
  const button = mayEdit && (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button leftSection={<IconUpload size={14} />}>Import</Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => pick(null, folder)}>A folder…</Menu.Item>
        <Menu.Item onClick={() => pick(null)}>Files, a zip or a package…</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
  return (
    <DropZone
      words="Drop to import"
      disabled={!mayEdit}
      onFiles={(uploads) => {
        meant.current = null;
        take(uploads);
      }}
    >
      <input
        ref={files}
        type="file"
        multiple
        hidden
        aria-label="Files to import"
        data-testid="import-files"
        onChange={(event) => {
          take(filesOfInput(event.currentTarget.files!));
          event.currentTarget.value = '';
        }}
      />
      <input
        ref={folder}
        type="file"
        multiple
        hidden
        aria-label="Folder to import"
        data-testid="import-folder"
        {...{ webkitdirectory: '' }}
        onChange={(event) => {
          take(filesOfInput(event.currentTarget.files!));
          event.currentTarget.value = '';
        }}
      />
      {sending.state.step === 'none' && startOpen && mayEdit && (
        <section className={classes.start} aria-label="Start here">
          <p>
            <b>Start here:</b> import a folder of linked STEP files, or a zip of one. Nothing is changed in
            your own folder.
          </p>
          <Button onClick={() => pick(null, folder)}>Import a folder</Button>
          <Button variant="default" onClick={() => pick(null)}>
            Import files or a zip
          </Button>
        </section>
      )}
      {children(button, ways)}
    </DropZone>
  );
}
