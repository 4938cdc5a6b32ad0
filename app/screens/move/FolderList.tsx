import { useState } from 'react';
import { baseName } from '#core/files/links/paths';
import { DRAGGED } from './dragged';
import classes from './Move.module.css';
import { foldersOf } from './moves';

interface FolderListProps {
  /** Every file of the project. */
  paths: readonly string[];
  /** The folder that everything goes to; null for none. */
  current: string | null;
  mayEdit: boolean;
  onAll: (folder: string) => void;
  onOne: (path: string, folder: string) => void;
}

/** The folders of the project: a click sends everything into one, a row that is dropped goes alone. */
export function FolderList({ paths, current, mayEdit, onAll, onOne }: FolderListProps) {
  const [over, setOver] = useState<string | null>(null);
  return (
    <section className={classes.folders} aria-label="Folders">
      <h2>Into a folder</h2>
      <p className="muted">Click a folder to move everything into it, or drag single rows there.</p>
      <ul>
        {foldersOf(paths).map((folder) => (
          <li key={folder}>
            <button
              type="button"
              className={classes.folder}
              style={{ paddingLeft: 10 + 16 * (folder === '' ? 0 : folder.split('/').length) }}
              aria-pressed={folder === current}
              data-over={folder === over || undefined}
              disabled={!mayEdit}
              onClick={() => onAll(folder)}
              onDragOver={(event) => {
                if (!mayEdit || !event.dataTransfer.types.includes(DRAGGED)) return;
                event.preventDefault();
                setOver(folder);
              }}
              onDragLeave={() => setOver(null)}
              onDrop={(event) => {
                event.preventDefault();
                setOver(null);
                onOne(event.dataTransfer.getData(DRAGGED), folder);
              }}
            >
              {folder === '' ? 'The top folder' : baseName(folder)}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
