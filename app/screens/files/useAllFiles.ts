import { useEffect, useMemo, useState } from 'react';
import { type FileRow, type FilesPart, unpackRows } from '#server/views/packed/packed-rows';
import { addressIn } from '../../ui/address/addresses';
import { fetchPatiently } from '../../ui/connection/connection';

export interface AllFiles {
  files: FileRow[];
  /** How many there are; more than `files` while the rest is on its way. */
  total: number;
}

/** The files that came with a page, and after them the rest, part by part. */
export function useAllFiles(projectId: string, first: FilesPart): AllFiles {
  const rows = useMemo(() => unpackRows(first.text), [first.text]);
  const [more, setMore] = useState<{ of: FilesPart | null; rows: FileRow[] }>({ of: null, rows: [] });
  useEffect(() => {
    let isWanted = true;
    void fetchRest(
      projectId,
      first,
      rows.length,
      () => isWanted,
      (found) => setMore({ of: first, rows: found }),
    );
    return () => {
      isWanted = false;
    };
  }, [projectId, first, rows]);
  const files = useMemo(() => (more.of === first ? [...rows, ...more.rows] : rows), [rows, more, first]);
  return { files, total: Math.max(first.total, files.length) };
}

/** Fetches what is missing; ends early when the project has changed, since the page is then made anew. */
async function fetchRest(
  projectId: string,
  { total, revision }: FilesPart,
  from: number,
  isWanted: () => boolean,
  onRows: (rows: FileRow[]) => void,
): Promise<void> {
  const found: FileRow[] = [];
  while (from + found.length < total) {
    const address = addressIn(projectId, 'file-rows', { from: String(from + found.length) });
    const answer = await fetchPatiently(address, {}, isWanted);
    if (!answer?.ok) return;
    const part = (await answer.json()) as FilesPart;
    if (!isWanted() || part.revision !== revision) return;
    const rows = unpackRows(part.text);
    if (rows.length === 0) return;
    found.push(...rows);
    onRows([...found]);
  }
}
