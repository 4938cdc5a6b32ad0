import { type ReactNode, useState } from 'react';
import classes from './DropZone.module.css';
import { filesOfDrop, type Upload } from './upload';

interface DropZoneProps {
  /** What a drop would do, shown while files are held above it. */
  words: string;
  disabled: boolean;
  onFiles: (uploads: Upload[]) => void;
  children: ReactNode;
}

/** Takes files and folders that are dropped from outside the browser: a second way, beside a button. */
export function DropZone({ words, disabled, onFiles, children }: DropZoneProps) {
  const [isOver, setOver] = useState(false);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is a second way; a button is the first
    <div
      className={classes.zone}
      data-over={(isOver && !disabled) || undefined}
      data-words={words}
      data-testid="drop-zone"
      onDragOver={(event) => {
        // A row of the table is no file that comes from outside.
        if (!event.dataTransfer.types.includes('Files')) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
      onDrop={(event) => {
        if (!event.dataTransfer.types.includes('Files')) return;
        event.preventDefault();
        setOver(false);
        if (!disabled) void filesOfDrop(event.dataTransfer).then(onFiles);
      }}
    >
      {children}
    </div>
  );
}
