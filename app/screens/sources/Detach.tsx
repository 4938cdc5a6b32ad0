import { Button, Menu } from '@mantine/core';
import type { ComponentProps, ReactNode } from 'react';
import { someOf } from '#core/command/words';
import { plural } from '../../ui/format';
import { OperationPage } from '../../ui/operation/OperationPage';

interface DetachPageProps {
  operation: ComponentProps<typeof OperationPage<null>>['operation'];
  source: string;
  choices: ReactNode;
  stage: ReactNode;
  onBack: () => void;
}

/** Which files no longer follow their source, before they are let go. */
export function DetachPage({ operation, source, choices, stage, onBack }: DetachPageProps) {
  return (
    <OperationPage
      operation={operation}
      choices={choices}
      stage={stage}
      lines={({ files }) => [
        <>
          {plural(files.length, 'file stays as it is', 'files stay as they are')} and{' '}
          {files.length === 1 ? 'no longer follows' : 'no longer follow'}{' '}
          <span className="mono">{source.split('/').at(-1)}</span>:{' '}
          <span className="mono">
            {someOf(
              files.map(({ path }) => path),
              4,
            )}
          </span>
          .
        </>,
      ]}
      empty="Looking at what changes…"
      label={(plan) => `Detach ${plural(plan?.files.length ?? 0, 'file')}`}
      doing="Detaching"
    >
      <Button variant="default" onClick={onBack}>
        Back to following
      </Button>
    </OperationPage>
  );
}

interface DetachMenuProps {
  source: string;
  /** The selected file. */
  file: string | null;
  /** How many files follow the source. */
  count: number;
  onChoose: (which: string) => void;
}

/** Which files shall no longer follow: the selected one, or all of them. */
export function DetachMenu({ source, file, count, onChoose }: DetachMenuProps) {
  return (
    <Menu position="top-end">
      <Menu.Target>
        <Button variant="default">Detach</Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>These files stay as they are and no longer follow {source.split('/').at(-1)}.</Menu.Label>
        <Menu.Item disabled={!file} onClick={() => file && onChoose(file)}>
          {file ? `Only ${file}` : 'Only the selected file'}
        </Menu.Item>
        <Menu.Item onClick={() => onChoose('all')}>All {plural(count, 'file')}</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
