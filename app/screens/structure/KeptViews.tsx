import { Button, Modal, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useOutletContext } from 'react-router';
import type { KeptView } from '#core/project/formats/kept-views';
import { addressIn } from '../../ui/address/addresses';
import type { ProjectContext } from '../../ui/project/project-context';
import { useAtOnce } from '../../ui/task/useAtOnce';
import { announce } from '../../ui/voice';
import classes from './KeptViews.module.css';

interface KeptViewsProps {
  views: readonly KeptView[];
  /** What is shown now. */
  shown: Omit<KeptView, 'name'>;
  onGoTo: (name: string) => void;
  onClose: () => void;
}

/** The views of a project: keeps what is shown under a name, goes to one, takes one out. */
export function KeptViews({ views, shown, onGoTo, onClose }: KeptViewsProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const { carryOut, isRunning, trouble } = useAtOnce('view');
  const [name, setName] = useState('');
  const [copied, setCopied] = useState<string | null>(null);
  const typed = name.trim();
  const isThere = views.some((view) => view.name === typed);
  const copy = (address: string, of: string) => {
    void navigator.clipboard?.writeText(new URL(address, window.location.href).href).then(() => {
      setCopied(of);
      announce(`The address of ${of} is copied`);
    });
  };
  const { root, single, section, colours, eye } = shown;
  const shownAddress = addressIn(projectId, 'structure', {
    root,
    single: single ? '1' : null,
    hidden: new URLSearchParams(window.location.search).get('hidden'),
    section,
    colours,
    eye,
  });
  return (
    <Modal opened onClose={onClose} title="Kept views" size="lg">
      <div className={classes.dialog}>
        {mayEdit && (
          <form
            className={classes.keep}
            onSubmit={(event) => {
              event.preventDefault();
              if (typed !== '')
                void carryOut({ name: typed, view: shown }).then((done) => done && setName(''));
            }}
          >
            <TextInput
              label="Name of what is shown now"
              description={
                isThere
                  ? 'There is a view of this name: it shows this from then on.'
                  : 'Where one looks from, what is hidden, the section and the colours, for everybody in the project.'
              }
              value={name}
              onChange={(event) => setName(event.currentTarget.value)}
              maxLength={80}
              data-autofocus
            />
            <Button type="submit" disabled={typed === ''} loading={isRunning}>
              {isThere ? 'Keep it anew' : 'Keep it'}
            </Button>
          </form>
        )}
        {trouble && (
          <p role="alert" className={classes.trouble}>
            {trouble}
          </p>
        )}
        <Button variant="default" onClick={() => copy(shownAddress, 'what is shown')}>
          {copied === 'what is shown' ? 'Copied' : 'Copy the address of what is shown'}
        </Button>
        {views.length === 0 ? (
          <p className="muted">No view is kept yet.</p>
        ) : (
          <ul aria-label="Kept views" className={classes.list}>
            {views.map((view) => (
              <li key={view.name}>
                <Button
                  variant="subtle"
                  className={classes.name}
                  onClick={() => {
                    onGoTo(view.name);
                    onClose();
                  }}
                >
                  {view.name}
                </Button>
                <span className={classes.root}>{view.root}</span>
                <Button
                  variant="default"
                  size="compact-sm"
                  aria-label={`Copy the address of ${view.name}`}
                  onClick={() => copy(addressIn(projectId, 'structure', { view: view.name }), view.name)}
                >
                  {copied === view.name ? 'Copied' : 'Copy address'}
                </Button>
                {mayEdit && (
                  <Button
                    variant="default"
                    size="compact-sm"
                    disabled={isRunning}
                    aria-label={`Take out ${view.name}`}
                    onClick={() => void carryOut({ name: view.name, view: null })}
                  >
                    Take out
                  </Button>
                )}
              </li>
            ))}
          </ul>
        )}
      </div>
    </Modal>
  );
}
