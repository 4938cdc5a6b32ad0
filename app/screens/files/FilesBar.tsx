import { Button, UnstyledButton } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link, useFetcher, useOutletContext } from 'react-router';
import { brokenIn } from '#core/files/links/resolve';
import type { FileRow } from '#server/views/packed/packed-rows';
import { count, plural } from '../../ui/format';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { addressOf, operationsFor } from '../../ui/operation/operations';
import { preparationOf } from '../../ui/project/preparation';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Files.module.css';
import { SHOWN_WORDS } from './filter-words';

interface FilesBarProps {
  files: readonly FileRow[];
  /** How many there are, with those that are on their way. */
  total: number;
  selection: readonly FileRow[];
  query: string;
  onQuery: (query: string) => void;
  foldersShown: boolean;
  onFolders: (shown: boolean) => void;
  children: ReactNode;
}

/** How the files stand, the preparation of their shapes, what can be done with those that are chosen, and the filter. */
export function FilesBar({
  files,
  total,
  selection,
  query,
  onQuery,
  foldersShown,
  onFolders,
  children,
}: FilesBarProps) {
  const { projectId, mayEdit, shapes, operations } = useOutletContext<ProjectContext>();
  const jobs = useFetcher();
  const preparation = preparationOf(projectId);
  const broken = files.reduce((sum, { links }) => sum + brokenIn(links), 0);
  const unreadable = files.filter(({ error }) => error).length;
  const damaged = files.filter(({ error, damage }) => !error && damage).length;
  const unused = files.filter((file) => file.unused).length;
  const paths = selection.map(({ path }) => path);
  return (
    <div className={classes.bar}>
      <Button
        className={classes.folderSwitch}
        variant={foldersShown ? 'light' : 'default'}
        aria-pressed={foldersShown}
        onClick={() => onFolders(!foldersShown)}
      >
        Folders
      </Button>
      <span className={classes.summary}>
        <b>{plural(total, 'file')}</b>
        {files.length < total && `, ${count(files.length)} of them here yet`}
        {broken > 0 && `, ${plural(broken, 'broken link')}`}
        <Listing count={unreadable} word="unreadable" words="unreadable" onList={onQuery} />
        <Listing count={damaged} word="damaged" words="damaged" onList={onQuery} />
        <Listing count={unused} word="unused" words="that no root assembly reaches" onList={onQuery} />
      </span>
      <span className={classes.space} />
      {mayEdit && shapes.open > 0 && (
        <Button variant="default" onClick={() => void jobs.submit({ intent: 'stop' }, preparation)}>
          Stop the preparation
        </Button>
      )}
      {mayEdit && shapes.open === 0 && shapes.failed > 0 && (
        <Button variant="default" onClick={() => void jobs.submit({ intent: 'again' }, preparation)}>
          {`Prepare ${plural(shapes.failed, 'file')} again`}
        </Button>
      )}
      {paths.length > 1 &&
        operationsFor(operations, selection, mayEdit).map((entry) => (
          <Button key={entry.name} variant="default" component={Link} to={addressOf(projectId, entry, paths)}>
            {entry.title} {paths.length}
          </Button>
        ))}
      <FilterInput value={query} onChange={onQuery} words={SHOWN_WORDS} />
      {children}
    </div>
  );
}

/** How many files are in a state; a click lists them. */
function Listing({
  count: files,
  word,
  words,
  onList,
}: {
  count: number;
  word: string;
  words: string;
  onList: (word: string) => void;
}) {
  if (files === 0) return null;
  return (
    <>
      {', '}
      <UnstyledButton className={classes.listing} onClick={() => onList(word)}>
        {`${count(files)} ${words}`}
      </UnstyledButton>
    </>
  );
}
