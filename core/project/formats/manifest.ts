import { z } from 'zod';
import { relativePath } from '#core/files/links/paths';
import { MadeReport } from '#core/product/source/made-report';
import { KeptView } from './kept-views';
import { type LinkFormat, linksAnew, type WrittenLink } from './link-format';
import { Preset } from './presets';

/** Name of the file, at the top of a project. */
export const MANIFEST_NAME = 'stonetray-project.json';
/** What its first line of content says it is. */
const KIND = 'stonetray-project/1';

const MadeForOutside = z
  .object({
    file: z.string().min(1).max(2000).describe('Path of the file, as seen from the manifest.'),
    made: z.string().max(40).describe('When it was made last: ISO 8601, UTC.'),
    operation: z.string().min(1).max(100).describe('The operation that made it, and makes it again.'),
    choices: z.unknown().describe('What was chosen for it: its recipe.'),
    report: MadeReport.optional(),
    sources: z
      .array(
        z.object({
          path: z
            .string()
            .min(1)
            .max(2000)
            .describe('Path of a file that it was made from, as seen from the manifest.'),
          sha256: z
            .string()
            .regex(/^[0-9a-f]{64}$/)
            .describe('Digest of the version that was taken.'),
        }),
      )
      .max(100_000)
      .describe('Everything that it was made from; the first is what was made lighter.'),
  })
  .describe('A file for strangers. It carries no tie to what it was made from: the tie is here.');
export type MadeForOutside = z.infer<typeof MadeForOutside>;

/** The project's manifest: what no file format can hold. */
export const Manifest = z
  .object({
    manifest: z.literal(KIND),
    outside: z.array(MadeForOutside).max(10_000).default([]),
    views: z.array(KeptView).max(500).optional(),
    presets: z.array(Preset).max(200).optional(),
  })
  .describe(
    'Manifest of a project: ties that its files must not carry, how its assemblies are looked at, and what is made of them.',
  );
export type Manifest = z.infer<typeof Manifest>;

/** The manifest's JSON Schema (2020-12), as published in docs/. */
export function manifestSchema(): object {
  return z.toJSONSchema(Manifest);
}

/** Reads a manifest. @throws Error that says what is wrong with it */
export function readManifest(bytes: Uint8Array): Manifest {
  let parsed: unknown;
  try {
    parsed = JSON.parse(Buffer.from(bytes).toString('utf8'));
  } catch (error) {
    throw new Error(
      `The manifest is no JSON: ${(error as Error).message}. Restore an earlier version of it.`,
    );
  }
  const read = Manifest.safeParse(parsed);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new Error(
    `The manifest cannot be read at ${issue?.path.join('.') || 'its top'}: ${issue?.message}. Restore an earlier version of it.`,
  );
}

export function writeManifest(manifest: Manifest): Uint8Array {
  return Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`);
}

const EMPTY: Manifest = { manifest: KIND, outside: [] };

/**
 * The manifest with a view of a name; or without it.
 * @returns whether there was one of that name
 */
export function withKeptView(
  bytes: Uint8Array | undefined,
  name: string,
  view: KeptView | null,
): { bytes: Uint8Array; isThere: boolean } {
  const manifest = bytes ? readManifest(bytes) : EMPTY;
  const { list: views, isThere } = withNamed(manifest.views, name, view);
  return { bytes: writeManifest({ ...manifest, views }), isThere };
}

/**
 * The manifest with a preset of a name; or without it.
 * @returns whether there was one of that name
 */
export function withPreset(
  bytes: Uint8Array | undefined,
  name: string,
  preset: Preset | null,
): { bytes: Uint8Array; isThere: boolean } {
  const manifest = bytes ? readManifest(bytes) : EMPTY;
  const { list: presets, isThere } = withNamed(manifest.presets, name, preset);
  return { bytes: writeManifest({ ...manifest, presets }), isThere };
}

/** A list by names with one of a name, or without it. */
function withNamed<Named extends { name: string }>(
  before: readonly Named[] = [],
  name: string,
  item: Named | null,
): { list: Named[]; isThere: boolean } {
  const others = before.filter((other) => other.name !== name);
  const list = [...others, ...(item ? [item] : [])].sort((a, b) => a.name.localeCompare(b.name, 'en'));
  return { list, isThere: others.length < before.length };
}

/** The manifest with one more file, or with a newer entry for it. */
export function withMade(bytes: Uint8Array | undefined, made: MadeForOutside): Uint8Array {
  const manifest = bytes ? readManifest(bytes) : EMPTY;
  const outside = [...manifest.outside.filter(({ file }) => file !== made.file), made];
  return writeManifest({ ...manifest, outside: outside.sort((a, b) => (a.file < b.file ? -1 : 1)) });
}

/** What ties in the manifest name as what made them: what did stands in its entries. */
export const OUTSIDE = 'outside';

/** JSON: of the manifest the ties are links; other files hold none. */
export const JSON_FORMAT: LinkFormat = {
  name: 'json',
  version: 3,
  links(bytes) {
    if (!isManifest(bytes)) return [];
    const { outside, views = [] } = readManifest(bytes);
    const links = new Map<string, WrittenLink>();
    const named = [
      ...outside.map(({ file }) => ['attachment', file] as const),
      ...views.map(({ root }) => ['view', root] as const),
    ];
    for (const [kind, file] of named)
      links.set(`${kind} ${file}`, { kind, written: file, definitions: [], places: [] });
    // Of several ties to one source the oldest counts: it falls behind first.
    const oldest = [...outside].sort((a, b) => (a.made < b.made ? -1 : 1));
    for (const { sources } of oldest)
      for (const [n, { path, sha256 }] of sources.entries()) {
        const key = `source ${path}`;
        if (links.has(key)) continue;
        const source = {
          // The original comes first: what was made can take its place.
          relation: n === 0 ? 'lite' : 'outside',
          sha256,
          bodies: [],
          recipe: { operation: OUTSIDE, choices: {} },
        };
        links.set(key, { kind: 'source', written: path, definitions: [], places: [], source });
      }
    return [...links.values()];
  },
  rewrite(bytes, holder, retargets) {
    const manifest = readManifest(bytes);
    const anew = linksAnew(JSON_FORMAT.links(bytes), holder, retargets);
    for (const [n, { kind, written, sha256, to }] of retargets.entries()) {
      const path = anew[n]?.path ?? relativePath(holder, to);
      for (const view of manifest.views ?? []) if (kind === 'view' && view.root === written) view.root = path;
      for (const made of manifest.outside) {
        if (kind === 'attachment' && made.file === written) made.file = path;
        if (kind !== 'source') continue;
        for (const source of made.sources)
          if (source.path === written) {
            source.path = path;
            if (sha256 !== undefined) source.sha256 = sha256;
          }
      }
    }
    return { bytes: writeManifest(manifest), rewritten: anew.map(({ path }) => path) };
  },
};

function isManifest(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.byteLength, 256)).includes(KIND);
}
