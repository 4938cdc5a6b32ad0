import type { FileToWorkOn } from '#core/accepts';
import type { LinkState } from '#core/files/links/resolve';
import type { Steps } from '#core/steps';
import { Distinct, RESTS, textSteps } from './packing';

/** A line of the table of files. */
export interface FileRow extends FileToWorkOn {
  product: string;
  unit: string | null;
  bytes: number;
  version: number;
  links: { [state in LinkState]: number };
  /** How many files lead to it, but for papers about it. */
  usedBy: number;
  /** For a paper: what it is about, or the first of these. */
  about: string | null;
  /** It belongs to nothing that a root assembly needs. */
  unused: boolean;
  /** There is a small picture of it. */
  hasPicture: boolean;
  error: string | null;
  /** What cannot be trusted in it although it can be read. */
  damage: string | null;
}

/** Files of the table from one on, as text: with a hundred thousand of them nobody waits for all before the first is there. */
export interface FilesPart {
  text: string;
  /** How many files the project has. */
  total: number;
  /** Of the project: parts of different ones do not belong together. */
  revision: number;
}

/** What many files have in common. */
type SharedFacts = Omit<FileRow, 'path' | 'product' | 'bytes'>;

/** Rows as they are sent: what many have in common stands there once. */
interface PackedRows {
  shared: SharedFacts[];
  rows: [path: string, product: string, bytes: number, shared: number][];
}

/** Rows as text. */
export function* packRowSteps(rows: readonly FileRow[]): Steps<string> {
  const shared = new Distinct<SharedFacts>();
  const packed: PackedRows['rows'] = [];
  for (const { path, product, bytes, ...facts } of rows) {
    if (packed.length % RESTS === 0) yield;
    packed.push([path, product, bytes, shared.indexOf(facts)]);
  }
  return yield* textSteps<PackedRows>({ shared: shared.values, rows: packed });
}

export function unpackRows(text: string): FileRow[] {
  const { shared, rows } = JSON.parse(text) as PackedRows;
  return rows.map(([path, product, bytes, n]) => ({ ...shared[n]!, path, product, bytes }));
}
