import { Button, Menu, Progress, SegmentedControl } from '@mantine/core';
import { IconUpload } from '@tabler/icons-react';
import { useEffect, useRef, useState } from 'react';
import { useOutletContext } from 'react-router';
import { extensionOf, joinPath } from '#core/links/paths';
import type { ImportResult, ImportRow } from '#server/projects/imports';
import { bytes, plural } from '../../ui/format';
import type { ProjectContext } from '../../ui/project-context';
import classes from './Files.module.css';
import { filesOfDrop, filesOfInput, sendImport, type Upload, type UploadProgress } from './upload';

type State =
  | { step: 'none' }
  | { step: 'ready'; uploads: Upload[] }
  | { step: 'sending'; progress: UploadProgress }
  | { step: 'working'; id: string; refused: string[]; doing: string; part: number }
  | { step: 'done'; refused: string[]; row: ImportRow }
  | { step: 'failed'; error: string };

/** Other ways to begin an import. */
export interface Bring {
  /** A picked file becomes the newest version of one that is there, whatever it is called outside. */
  newVersion(path: string): void;
  /** What is picked goes into a folder. */
  into(folder: string): void;
}

interface ImportPanelProps {
  projectId: string;
  mayEdit: boolean;
  startOpen: boolean;
  children: (button: React.ReactNode, bring: Bring) => React.ReactNode;
}

/** Takes files by picker or by dropping, sends them with progress, and says what came of them. */
export function ImportPanel({ projectId, mayEdit, startOpen, children }: ImportPanelProps) {
  const { importEvent } = useOutletContext<ProjectContext>();
  const [state, setState] = useState<State>({ step: 'none' });
  const [over, setOver] = useState(false);
  const [onConflict, setOnConflict] = useState('replace');
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const abort = useRef(new AbortController());

  /** Where what is picked next shall go: the place of one file, or a folder. */
  const meant = useRef<{ path: string } | { folder: string } | null>(null);

  const take = (uploads: Upload[]) => {
    const target = meant.current;
    meant.current = null;
    if (uploads.length === 0) return;
    if (target === null) return setState({ step: 'ready', uploads });
    if ('folder' in target)
      return setState({
        step: 'ready',
        uploads: uploads.map(({ path, file }) => ({ path: joinPath(target.folder, path), file })),
      });
    const [one] = uploads;
    if (uploads.length > 1 || !one)
      return setState({ step: 'failed', error: 'Pick one file for the new version.' });
    if (extensionOf(one.path) !== extensionOf(target.path))
      return setState({
        step: 'failed',
        error: `${one.path} is of another kind than ${target.path}. Pick a file that ends in .${extensionOf(target.path)}.`,
      });
    setOnConflict('replace');
    setState({ step: 'ready', uploads: [{ path: target.path, file: one.file }] });
  };
  const bring: Bring = {
    newVersion: (path) => {
      meant.current = { path };
      files.current?.click();
    },
    into: (folderPath) => {
      meant.current = { folder: folderPath };
      files.current?.click();
    },
  };
  const send = async (uploads: Upload[]) => {
    abort.current = new AbortController();
    try {
      const { id, refused } = await sendImport(
        projectId,
        uploads,
        onConflict,
        (progress) => setState({ step: 'sending', progress }),
        abort.current.signal,
      );
      setState({ step: 'working', id, refused, doing: 'Waiting for the worker', part: 0 });
    } catch (error) {
      setState(
        abort.current.signal.aborted
          ? { step: 'none' }
          : { step: 'failed', error: error instanceof Error ? error.message : String(error) },
      );
    }
  };

  // The worker tells how far it is; its end is also asked for, in case the word of it was lost.
  const working = state.step === 'working' ? state.id : null;
  useEffect(() => {
    if (working === null) return;
    let gone = false;
    const ask = async () => {
      const response = await fetch(`/projects/${projectId}/import?import=${working}`);
      const row = (await response.json()) as ImportRow;
      if (gone) return;
      setState((before) => {
        if (before.step !== 'working') return before;
        if (row.state === 'done' || row.state === 'failed' || row.state === 'cancelled')
          return { step: 'done', refused: before.refused, row };
        return {
          ...before,
          doing: row.doing || before.doing,
          part: row.total > 0 ? row.done / row.total : 0,
        };
      });
    };
    const timer = setInterval(() => void ask(), 1500);
    return () => {
      gone = true;
      clearInterval(timer);
    };
  }, [working, projectId]);
  useEffect(() => {
    if (importEvent && importEvent.import === working && importEvent.state === 'running') {
      setState((before) =>
        before.step === 'working'
          ? {
              ...before,
              doing: importEvent.doing,
              part: importEvent.total > 0 ? importEvent.done / importEvent.total : 0,
            }
          : before,
      );
    }
  }, [importEvent, working]);

  const cancel = () => {
    abort.current.abort();
    if (working)
      void fetch(
        `/projects/${projectId}/import?${new URLSearchParams({ step: 'cancel', import: working })}`,
        { method: 'POST' },
      );
    setState({ step: 'none' });
  };

  const button = mayEdit && (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button leftSection={<IconUpload size={14} />}>Import</Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => folder.current?.click()}>A folder…</Menu.Item>
        <Menu.Item onClick={() => files.current?.click()}>Files, a zip or a package…</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is a second way; the button is the first
    <div
      className={classes.dropping}
      data-over={(over && mayEdit) || undefined}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        if (mayEdit) void filesOfDrop(event.dataTransfer).then(take);
      }}
    >
      <input
        ref={files}
        type="file"
        multiple
        hidden
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
        data-testid="import-folder"
        {...{ webkitdirectory: '' }}
        onChange={(event) => take(filesOfInput(event.currentTarget.files!))}
      />
      {state.step !== 'none' && (
        <section className={classes.import} aria-label="Import">
          {state.step === 'ready' && (
            <div className={classes.importRow}>
              <p>
                <b>
                  {state.uploads.length === 1 ? state.uploads[0]!.path : plural(state.uploads.length, 'file')}
                </b>
                , {bytes(state.uploads.reduce((sum, { file }) => sum + file.size, 0))}. Where a file of the
                same name is there already:
              </p>
              <SegmentedControl
                aria-label="Where a file of the same name is there already"
                data={[
                  { value: 'replace', label: 'New version' },
                  { value: 'keep', label: 'Keep mine' },
                  { value: 'both', label: 'Keep both' },
                ]}
                value={onConflict}
                onChange={setOnConflict}
              />
              <Button onClick={() => void send(state.uploads)}>Import</Button>
              <Button variant="subtle" color="gray" onClick={() => setState({ step: 'none' })}>
                Leave it
              </Button>
            </div>
          )}
          {(state.step === 'sending' || state.step === 'working') && (
            <div className={classes.importRow}>
              <p role="status">{state.step === 'sending' ? `Sending ${state.progress.path}` : state.doing}</p>
              <Progress
                className={classes.progress}
                value={
                  100 *
                  (state.step === 'sending'
                    ? state.progress.done / Math.max(1, state.progress.total)
                    : state.part)
                }
                aria-label="Progress of the import"
              />
              <Button variant="default" onClick={cancel}>
                Cancel
              </Button>
            </div>
          )}
          {state.step === 'failed' && (
            <div className={classes.importRow}>
              <p role="alert" className={classes.error}>
                Nothing was imported. {state.error}
              </p>
              <Button variant="default" onClick={() => setState({ step: 'none' })}>
                Close
              </Button>
            </div>
          )}
          {state.step === 'done' && (
            <Outcome row={state.row} refused={state.refused} onClose={() => setState({ step: 'none' })} />
          )}
        </section>
      )}
      {state.step === 'none' && startOpen && mayEdit && (
        <section className={classes.import} aria-label="Start here">
          <div className={classes.importRow}>
            <p>
              <b>Start here:</b> import a folder of linked STEP files, or a zip of one. Nothing is changed in
              your own folder.
            </p>
            <Button onClick={() => folder.current?.click()}>Import a folder</Button>
            <Button variant="default" onClick={() => files.current?.click()}>
              Import files or a zip
            </Button>
          </div>
        </section>
      )}
      {children(button, bring)}
    </div>
  );
}

function Outcome({ row, refused, onClose }: { row: ImportRow; refused: string[]; onClose: () => void }) {
  const result: ImportResult | null = row.result;
  const problems = [...refused.map((problem) => ({ path: '', problem })), ...(result?.problems ?? [])];
  return (
    <>
      <div className={classes.importRow}>
        <p role="status">
          {row.state === 'done' && result
            ? `Imported: ${plural(result.added.length, 'new file')}, ${plural(result.replaced.length, 'new version')}, ${result.unchanged} unchanged.`
            : row.state === 'cancelled'
              ? 'The import was cancelled. Nothing was changed.'
              : 'The import failed. Nothing was changed.'}
        </p>
        <Button variant="default" onClick={onClose}>
          Close
        </Button>
      </div>
      {(problems.length > 0 || (result?.conflicts.length ?? 0) > 0) && (
        <ul className={classes.result}>
          {problems.map(({ path, problem }) => (
            <li key={path + problem}>
              <span className="mono">{path}</span> <span className={classes.error}>{problem}</span>
            </li>
          ))}
          {result?.conflicts.map(({ path, outcome }) => (
            <li key={path}>
              <span className="mono">{path}</span> {outcome}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
