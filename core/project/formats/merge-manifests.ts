import { dismissalKey } from './dismissals';
import { type Manifest, readManifest, writeManifest } from './manifest';

/** By what an entry of each list is known: two of one key are one entry. */
const KEYS: { readonly [list in keyof Manifest]?: (entry: never) => string } = {
  outside: ({ file }: { file: string }) => file,
  views: ({ name }: { name: string }) => name,
  presets: ({ name }: { name: string }) => name,
  attachments: ({ file, to }: { file: string; to: string }) => JSON.stringify([file, to]),
  standard: (mark: object) => JSON.stringify(mark),
  dismissed: dismissalKey as (entry: never) => string,
};

/**
 * A manifest with the entries of another that arrives: what both have is as it arrives, what only one has stays.
 * @throws Error for one that cannot be read; Refusal for one of a newer version
 */
export function mergedManifests(there: Uint8Array, arriving: Uint8Array): Uint8Array {
  const [before, after] = [readManifest(there), readManifest(arriving)];
  const lists = Object.entries(KEYS).flatMap(([list, keyOf]) => {
    const entries = [...((before[list] ?? []) as never[]), ...((after[list] ?? []) as never[])];
    if (entries.length === 0) return [];
    return [[list, [...new Map(entries.map((entry) => [keyOf!(entry), entry])).values()]] as const];
  });
  // Whoever writes refuses the newer one of two versions.
  const manifest = [before.manifest, after.manifest].sort().at(-1);
  return writeManifest({ ...before, ...after, ...Object.fromEntries(lists), manifest } as Manifest);
}
