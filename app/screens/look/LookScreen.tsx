import { Button } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { folderOf } from '#core/files/links/paths';
import type { LookedAtFile } from '#server/views/operations/look';
import { addressIn, downloadAddress, shownAddress } from '../../ui/address/addresses';
import type { ProjectContext } from '../../ui/project/project-context';
import { DocumentLook } from './DocumentLook';
import { ImageLook } from './ImageLook';
import classes from './Look.module.css';
import { MarkdownLook } from './MarkdownLook';
import { MeshLook } from './MeshLook';

interface LookScreenProps {
  path: string;
  /** Null for a file that is not looked at here. */
  file: LookedAtFile | null;
}

/** A drawing, an image, a text, a report, a document or a mesh of the project, without leaving it. */
export function LookScreen({ path, file }: LookScreenProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const name = path.split('/').at(-1)!;
  return (
    <div className={classes.page}>
      <header className={classes.head}>
        <h1 className="mono">{path}</h1>
        <Button variant="default" component={Link} to={addressIn(projectId, 'files', { sel: path })}>
          Its facts
        </Button>
        <Button
          variant="default"
          component="a"
          href={
            file ? downloadAddress(projectId, file.sha256, path) : addressIn(projectId, 'latest', { path })
          }
        >
          Download
        </Button>
      </header>
      {file === null ? (
        <p className={classes.none}>
          Files of this kind are not shown here. Models stand on Structure; everything else can be downloaded.
        </p>
      ) : (
        <Shown
          projectId={projectId}
          file={file}
          name={name}
          address={shownAddress(projectId, file.sha256, path)}
        />
      )}
    </div>
  );
}

interface ShownProps {
  projectId: string;
  file: LookedAtFile;
  name: string;
  address: string;
}

function Shown({ projectId, file, name, address }: ShownProps) {
  const { as, text, isCut } = file;
  const cut = isCut && (
    <p className={classes.cut} role="status">
      This is its beginning; the whole is long. Download it to read on.
    </p>
  );
  switch (as) {
    case 'image':
      return <ImageLook address={address} name={name} />;
    case 'mesh':
      return (
        <MeshLook
          url={downloadAddress(projectId, file.sha256, file.path)}
          name={name}
          mesh={{ kind: file.mesh!, folder: addressIn(projectId, 'latest', { path: folderOf(file.path) }) }}
        />
      );
    case 'page':
      return <iframe className={classes.frame} title={name} src={address} sandbox="" />;
    case 'document':
      return <DocumentLook address={address} name={name} />;
    case 'markdown':
      return (
        <>
          {cut}
          <MarkdownLook text={text ?? ''} name={name} />
        </>
      );
    default:
      return (
        <>
          {cut}
          <textarea
            className={classes.text}
            aria-label={name}
            value={text ?? ''}
            readOnly
            spellCheck={false}
          />
        </>
      );
  }
}
