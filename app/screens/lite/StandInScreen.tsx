import { Button, Radio, Stack } from '@mantine/core';
import { useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { StandInOutline } from '#core/jobs/stand-in/plan';
import { addressIn } from '../../ui/address/addresses';
import { plural } from '../../ui/format';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import { Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import giving from '../giving/giving.module.css';
import classes from './Lite.module.css';

/** A lite model takes the place of its original in assemblies, or gives it back. */
export function StandInScreen({ file }: { file: string | null }) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [choices, setChoices] = useState<{ instead: string | null; in: string | null }>({
    instead: null,
    in: null,
  });
  const changing = useOperation<StandInOutline>('stand-in', file === null ? null : { ...choices, file });
  const preview = changing.planned?.preview ?? null;
  if (file === null)
    return (
      <div className={layout.blank}>
        <h1>No file is chosen</h1>
        <p className="muted">
          Open the menu of a file in Files or Structure, and choose “Swap lite model and original”.
        </p>
        <Button component={Link} to={addressIn(projectId, 'structure')}>
          Go to Structure
        </Button>
      </div>
    );
  return (
    <OperationPage
      operation={changing}
      choices={
        <div className={giving.result}>
          <h1 className={classes.title}>Swap lite model and original</h1>
          <p className="muted">
            Assemblies place <span className="mono">{file}</span> now.
          </p>
          <Radio.Group
            label="In its place they place"
            value={choices.instead ?? preview?.instead ?? ''}
            onChange={(instead) => setChoices({ ...choices, instead })}
          >
            <Stack gap={6} mt={6}>
              {(preview?.candidates ?? []).map((path) => (
                <Radio
                  key={path}
                  value={path}
                  label={<span className="mono">{path}</span>}
                  disabled={changing.isDone}
                />
              ))}
            </Stack>
          </Radio.Group>
          <Select
            label="Where"
            data={[
              { value: '', label: 'In every assembly that places it' },
              ...(preview?.users ?? []).map(({ path, occurrences }) => ({
                value: path,
                label: `${path} (${plural(occurrences, 'time')})`,
              })),
            ]}
            value={choices.in ?? ''}
            onChange={(value) => setChoices({ ...choices, in: value || null })}
            allowDeselect={false}
            disabled={changing.isDone}
          />
        </div>
      }
      warnings={changing.planned?.hindrance ? [changing.planned.hindrance] : []}
      empty="Nothing yet."
      label={() => 'Use it there'}
      doing="Changing the links"
      done={() => <Link to={addressIn(projectId, 'structure')}>See the structure</Link>}
    />
  );
}
