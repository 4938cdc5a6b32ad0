import { z } from 'zod';
import { relativePath } from '#core/files/links/paths';
import { MadeReport } from '#core/product/source/made-report';
import { Refusal } from '#core/refusal';
import { Attachment } from './attachments';
import { Dismissal } from './dismissals';
import { KeptView } from './kept-views';
import { type LinkFormat, linksAnew, type WrittenLink } from './link-format';
import { Preset } from './presets';
import { StandardMark } from './standard-marks';

/** Name of the file, at the top of a project. */
export const MANIFEST_NAME = 'stonetray-project.json';
/** What its first line of content says it is, and in which version. */
const KIND = 'stonetray-project/1';
const VERSION = /"manifest"\s*:\s*"stonetray-project\/(\d{1,6})"/;

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
  // What somebody else has put into it stays in it.
  .looseObject({
    manifest: z.literal(KIND),
    outside: z.array(MadeForOutside).max(10_000).default([]),
    views: z.array(KeptView).max(500).optional(),
    presets: z.array(Preset).max(200).optional(),
    attachments: z.array(Attachment).max(20_000).optional(),
    standard: z.array(StandardMark).max(2000).optional(),
    dismissed: z.array(Dismissal).max(5000).optional(),
  })
  .describe(
    'Manifest of a project: ties that its files cannot or must not carry, how its assemblies are looked at, what is made of them, which parts are standard, and which findings may stay.',
  );
export type Manifest = z.infer<typeof Manifest>;

/** The manifest's JSON Schema (2020-12), as published in docs/. */
export function manifestSchema(): object {
  return z.toJSONSchema(Manifest);
}

/** What is wrong with a manifest that was written by a newer version, in words for whoever wants to change it. */
const NEWER =
  'The manifest of this project was written by a newer version of Stone Tray. It is read as far as it is understood, and not written over: use that version to change what stands in it.';

/**
 * Reads a manifest. One of a newer version is read as far as it is understood: entries that are not are left out.
 * @throws Error that says what is wrong with it
 */
export function readManifest(bytes: Uint8Array): Manifest {
  let parsed: unknown;
  try {
    parsed = JSON.parse(Buffer.from(bytes).toString('utf8'));
  } catch (error) {
    throw new Error(
      `The manifest is no JSON: ${(error as Error).message}. Restore an earlier version of it.`,
    );
  }
  if (isNewer(parsed)) return understood(parsed);
  const read = Manifest.safeParse(parsed);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new Error(
    `The manifest cannot be read at ${issue?.path.join('.') || 'its top'}: ${issue?.message}. Restore an earlier version of it.`,
  );
}

interface NewerManifest {
  manifest: string;
  [entry: string]: unknown;
}

function isNewer(parsed: unknown): parsed is NewerManifest {
  const { manifest } = Object(parsed) as Partial<NewerManifest>;
  return typeof manifest === 'string' && /^stonetray-project\/\d+$/.test(manifest) && manifest !== KIND;
}

/** What a newer manifest says in words that are known here. */
function understood(parsed: NewerManifest): Manifest {
  const entriesOf = <Entry>(name: string, entry: z.ZodType<Entry>): Entry[] => {
    const list = parsed[name];
    return Array.isArray(list)
      ? list.flatMap((one) => {
          const read = entry.safeParse(one);
          return read.success ? [read.data] : [];
        })
      : [];
  };
  return {
    // It is known by this that it is not written over.
    manifest: parsed.manifest as typeof KIND,
    outside: entriesOf('outside', MadeForOutside),
    views: entriesOf('views', KeptView),
    presets: entriesOf('presets', Preset),
    attachments: entriesOf('attachments', Attachment),
    standard: entriesOf('standard', StandardMark),
    dismissed: entriesOf('dismissed', Dismissal),
  };
}

/** @throws Refusal for one of a newer version */
export function writeManifest(manifest: Manifest): Uint8Array {
  if (manifest.manifest !== KIND) throw new Refusal(NEWER);
  return Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`);
}

/**
 * The manifest with some of its lists changed.
 * @param bytes of the one that is there
 * @param change gives the lists that are others afterwards
 * @throws Refusal for one of a newer version
 */
export function withEntries(
  bytes: Uint8Array | undefined,
  change: (manifest: Manifest) => Partial<Manifest>,
): Uint8Array {
  const manifest = bytes ? readManifest(bytes) : EMPTY;
  return writeManifest({ ...manifest, ...change(manifest) });
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
  return withEntries(bytes, ({ outside }) => ({
    outside: [...outside.filter(({ file }) => file !== made.file), made].sort((a, b) =>
      a.file < b.file ? -1 : 1,
    ),
  }));
}

/** What ties in the manifest name as what made them: what did stands in its entries. */
export const OUTSIDE = 'outside';

/** JSON: of the manifest the ties are links; other files hold none. */
export const JSON_FORMAT: LinkFormat = {
  name: 'json',
  version: 4,
  read(bytes, facts) {
    facts.links = JSON_FORMAT.links(bytes);
    const { attachments = [] } = isManifest(bytes) ? readManifest(bytes) : EMPTY;
    if (attachments.length > 0) facts.attached = attachments;
  },
  links(bytes) {
    if (!isManifest(bytes)) return [];
    const { outside, views = [], attachments = [], standard = [] } = readManifest(bytes);
    const links = new Map<string, WrittenLink>();
    const named = [
      ...outside.map(({ file }) => ['attachment', file] as const),
      ...views.map(({ root }) => ['view', root] as const),
      ...attachments.flatMap(({ file, to }) => [file, to]).map((path) => ['listed', path] as const),
      ...standard.flatMap(({ file }) => (file === undefined ? [] : [['listed', file] as const])),
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
      if (kind === 'listed') relist(manifest, written, path);
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

/** Lets entries that list a file list it by another path. */
function relist({ attachments = [], standard = [] }: Manifest, written: string, path: string): void {
  for (const attachment of attachments) {
    if (attachment.file === written) attachment.file = path;
    if (attachment.to === written) attachment.to = path;
  }
  for (const mark of standard) if (mark.file === written) mark.file = path;
}

function isManifest(bytes: Uint8Array): boolean {
  const { buffer, byteOffset, byteLength } = bytes;
  return VERSION.test(Buffer.from(buffer, byteOffset, Math.min(byteLength, 256)).toString('latin1'));
}
