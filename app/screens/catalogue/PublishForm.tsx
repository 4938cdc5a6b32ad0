import { Checkbox, Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import { stemOf } from '#core/files/links/paths';
import { OFFERED_FORMATS, type OfferedFormat, PublishChoices } from '#core/jobs/publish/choices';
import type { FaceToOffer } from '#core/jobs/publish/mounting';
import type { OfferOutline } from '#core/jobs/publish/offer';
import type { OfferedRow } from '#server/views/operations/catalogue-view';
import { useOperation } from '../../ui/operation/useOperation';
import { TaskBar } from '../../ui/task/TaskBar';
import classes from './Catalogue.module.css';
import { DifferenceTable } from './DifferenceTable';
import { OfferLook } from './OfferLook';
import { FORMAT_WORDS } from './words';

interface PublishFormProps {
  path: string;
  /** What is offered already. */
  offered: OfferedRow | undefined;
  onClose: () => void;
}

/** How a file is offered, what its page will say, and the button that offers it. */
export function PublishForm({ path, offered, onClose }: PublishFormProps) {
  const [choices, setChoices] = useState<PublishChoices>(
    () => offered?.choices ?? PublishChoices.parse({ file: path, title: stemOf(path) }),
  );
  const set = (part: Partial<PublishChoices>) => setChoices((before) => ({ ...before, ...part }));
  const isSayable = PublishChoices.safeParse(choices).success;
  const publishing = useOperation<OfferOutline>('publish', isSayable ? choices : null);
  const { planned, work } = publishing;
  const faces = planned?.preview.faces ?? [];
  const setFaces = (next: readonly FaceToOffer[]) =>
    set({
      mounting: next.flatMap(({ isOffered, face, name, trace }) =>
        isOffered ? [{ face, name, trace }] : [],
      ),
    });
  const changed = (face: FaceToOffer, part: Partial<FaceToOffer>) =>
    setFaces(faces.map((other) => (other.face === face.face ? { ...other, ...part } : other)));

  if (work.running)
    return <TaskBar progress={work.running} label={`Publishing ${path}`} onCancel={work.cancel} />;
  return (
    <section className={classes.form} aria-label={`How ${path} is offered`}>
      <div className={classes.fields}>
        <TextInput
          label={`Title of ${path}`}
          value={choices.title ?? ''}
          maxLength={120}
          onChange={(event) => set({ title: event.currentTarget.value })}
          error={choices.title?.trim() === '' ? 'Give it a title.' : undefined}
          data-autofocus
        />
        <TextInput
          label="Part number, for ordering"
          value={choices.partNumber}
          maxLength={60}
          onChange={(event) => set({ partNumber: event.currentTarget.value })}
        />
        <Textarea
          label="Conditions, as they stand on its page"
          value={choices.conditions}
          maxLength={5000}
          autosize
          minRows={2}
          maxRows={6}
          onChange={(event) => set({ conditions: event.currentTarget.value })}
        />
      </div>
      <div className={classes.fields}>
        <Checkbox.Group
          label="Formats"
          value={choices.formats}
          onChange={(formats) => set({ formats: formats as OfferedFormat[] })}
          error={choices.formats.length === 0 ? 'Offer it in one format at least.' : undefined}
        >
          {OFFERED_FORMATS.map((format) => (
            <Checkbox key={format} className={classes.tick} value={format} label={FORMAT_WORDS[format]} />
          ))}
        </Checkbox.Group>
        <fieldset className={classes.faces}>
          <legend>Faces that it is mounted by</legend>
          {faces.length === 0 && (
            <p className="muted">{planned ? 'None were found.' : 'They are being looked for…'}</p>
          )}
          {faces.map((face) => (
            <div key={face.face} className={classes.face}>
              <Checkbox
                className={classes.tick}
                checked={face.isOffered}
                label={face.size ?? (face.name || `Face #${face.face}`)}
                onChange={(event) => changed(face, { isOffered: event.currentTarget.checked })}
              />
              {face.isOffered && (
                <TextInput
                  size="xs"
                  aria-label={`Name of ${face.size ?? `face #${face.face}`}`}
                  placeholder="Name, such as Flange"
                  value={face.name === face.size ? '' : face.name}
                  maxLength={200}
                  onChange={(event) => changed(face, { name: event.currentTarget.value })}
                />
              )}
            </div>
          ))}
        </fieldset>
      </div>
      <OfferLook operation={publishing} label="Publish it" disabled={!isSayable} onClose={onClose}>
        {({ title, formats, facts }) => (
          <>
            <p>
              Whoever has its address can download “{title}” without an account:{' '}
              {formats.map((format) => format.toUpperCase()).join(', ')} and a picture. No file changes.
            </p>
            <DifferenceTable before={offered?.facts ?? null} after={facts} />
          </>
        )}
      </OfferLook>
    </section>
  );
}
