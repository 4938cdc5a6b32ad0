import { ActionIcon, Button, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import type { KeptFace } from '#core/geometry/reduce/choices';
import type { LitePreview } from '#core/jobs/lite/view';
import { isKept } from '../giving/kept-faces';
import classes from './Lite.module.css';

interface KeptFacesProps {
  kept: readonly KeptFace[];
  preview: LitePreview | null;
  onToggle: (face: KeptFace) => void;
  onName: (face: KeptFace, name: string) => void;
  disabled: boolean;
}

/** The faces that stay with all their holes: those that were chosen, and what is proposed. */
export function KeptFaces({ kept, preview, onToggle, onName, disabled }: KeptFacesProps) {
  const proposed = preview?.mounting.filter((face) => !isKept(kept, face)) ?? [];
  return (
    <div className={classes.faces}>
      <p className="muted">
        Click faces on the model. They stay as they are, to the last digit, with all holes in them, and are
        found again in a later version.
      </p>
      {kept.length > 0 && (
        <ul aria-label="Faces that stay">
          {kept.map((face) => (
            <li key={`${face.file}#${face.face}`}>
              <TextInput
                size="xs"
                aria-label={`Name of face #${face.face}`}
                placeholder="Name"
                value={face.name}
                maxLength={200}
                disabled={disabled}
                onChange={(event) => onName(face, event.currentTarget.value)}
              />
              <span className="mono" title={face.file}>
                {face.file.split('/').at(-1)}#{face.face}
              </span>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label={`Let ${face.name || `face #${face.face}`} go`}
                disabled={disabled}
                onClick={() => onToggle(face)}
              >
                <IconX size={14} />
              </ActionIcon>
            </li>
          ))}
        </ul>
      )}
      {proposed.length > 0 && (
        <>
          <h2>Probably for mounting</h2>
          <ul aria-label="Proposed faces">
            {proposed.map(({ file, face, name }) => (
              <li key={`${file}#${face}`}>
                <span>{name}</span>
                <span className="mono" title={file}>
                  {file.split('/').at(-1)}#{face}
                </span>
                <Button
                  size="compact-xs"
                  variant="default"
                  disabled={disabled}
                  aria-label={`Keep: ${name} of ${file}`}
                  onClick={() => onToggle({ file, face, name, trace: null })}
                >
                  Keep
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {preview && kept.length === 0 && proposed.length === 0 && (
        <p className="muted">No face looks like one for mounting.</p>
      )}
    </div>
  );
}
