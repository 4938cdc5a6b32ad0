import { baseName, folderOf } from '#core/files/links/paths';
import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import { typedSize } from '#core/typed-size';
import type { Database } from '#server/db/connection';
import { withPictures } from '#server/views/files/file-picture';
import { keyOfLink } from '#server/views/operations/repair-view';

/** A file, a part by what its product says, a component by what its assembly calls it, or a link by what it says. */
export interface Found {
  what: 'file' | 'part' | 'component' | 'link';
  name: string;
  /** The file that it is, or is in. */
  path: string;
  /** Where it is, in words. */
  where: string;
  /** Content of the file, where it has a picture. */
  picture?: string;
  /** Of a link that does not lead to the one file that is meant: its name in the Repair desk. */
  broken?: string;
  /** Another project than the one that is looked through. */
  project?: { id: string; name: string };
}

/** What is found of a text: in a project, and in the others of the person. */
export interface FoundEverywhere {
  found: Found[];
  others: Found[];
  projects: { id: string; name: string; description: string }[];
}

/** So many of each are shown; who looks for more types more. */
const MOST = 12;

/** So many are looked at to show the best: of a common word the shortest. */
const MOST_HITS = 200;

/** So many parts and components of one file are looked at. */
const MOST_OF_A_FILE = 20;

/** So many links between rests. */
const RESTS = 512;

/** Words of what is typed that count; each is a condition of the query. */
const MOST_WORDS = 8;

/** What was typed, as the filter of a table reads it: words, and limits of size in bytes. */
interface Wanted {
  words: string[];
  over?: number;
  under?: number;
}

export function readWanted(typed: string): Wanted {
  const wanted: Wanted = { words: [] };
  for (const word of typed.toLowerCase().split(/\s+/).filter(Boolean).slice(0, MOST_WORDS)) {
    const limit = typedSize(word);
    // A number that is none limits nothing.
    if (!limit || !Number.isFinite(limit.bytes)) wanted.words.push(word);
    else wanted[limit.than === '>' ? 'over' : 'under'] = limit.bytes;
  }
  return wanted;
}

interface ProjectToLookThrough {
  id: string;
  name: string;
}

interface FileHit {
  project_id: string;
  path: string;
  sha256: string;
  bytes: string;
}

/**
 * Files, parts and components of some projects in which all words stand that were typed: of files the path or the role, of parts
 * the id, the name or the material. By the index of letters: what it costs grows with what fits, not with the projects.
 * @param here the project that is looked through; what is found in others says in which
 */
export async function findInProjects(
  db: Database,
  projects: readonly ProjectToLookThrough[],
  typed: string,
  here: string | null,
): Promise<Found[]> {
  const wanted = readWanted(typed);
  if (projects.length === 0 || (wanted.words.length === 0 && !wanted.over && !wanted.under)) return [];
  const ids = projects.map(({ id }) => id);
  const [files, products] = await Promise.all([
    filesOf(db, ids, wanted),
    wanted.words.length === 0 ? [] : productsOf(db, ids, wanted),
  ]);
  const names = new Map(projects.map(({ id, name }) => [id, name]));
  const first = wanted.words[0] ?? '';
  const placed = <Hit extends FileHit>(hit: Hit, found: Found): Placed => ({
    hit,
    found:
      hit.project_id === here
        ? found
        : { ...found, project: { id: hit.project_id, name: names.get(hit.project_id)! } },
  });
  const partNames = new Set(
    products.filter(({ what }) => what === 'part').map((hit) => `${hit.project_id} ${hit.name}`),
  );
  const best = [
    ...bestOf(
      files.map((hit) =>
        placed(hit, {
          what: 'file',
          name: baseName(hit.path),
          path: hit.path,
          where: folderOf(hit.path) || 'the top folder',
        }),
      ),
      first,
    ),
    ...(['part', 'component'] as const).flatMap((what) =>
      bestOf(
        products
          .filter((hit) => hit.what === what)
          // What an assembly calls as the part calls itself is no other thing.
          .filter((hit) => what === 'part' || !partNames.has(`${hit.project_id} ${hit.name}`))
          .map((hit) => placed(hit, { what, name: hit.name, path: hit.path, where: whereOf(hit) })),
        first,
      ),
    ),
  ];
  return withPicturesOf(db, best);
}

interface Placed {
  hit: FileHit;
  found: Found;
}

/** Adds the files' pictures, where they have one. */
async function withPicturesOf(db: Database, placed: readonly Placed[]): Promise<Found[]> {
  const pictured = new Map<string, Set<string>>();
  for (const id of new Set(placed.map(({ hit }) => hit.project_id))) {
    const hits = placed.filter(({ hit }) => hit.project_id === id);
    const files = hits.map(({ hit: { path, sha256, bytes } }) => ({ path, sha256, bytes: Number(bytes) }));
    pictured.set(id, await withPictures(db, id, files));
  }
  return placed.map(({ hit, found }) =>
    pictured.get(hit.project_id)!.has(hit.path) ? { ...found, picture: hit.sha256 } : found,
  );
}

/** A pattern of SQL for a word anywhere. */
const like = (word: string) => `%${word.replace(/[\\%_]/g, (letter) => `\\${letter}`)}%`;

async function filesOf(db: Database, ids: string[], { words, over, under }: Wanted): Promise<FileHit[]> {
  const query = db('files')
    .whereRaw('files.project_id = any(?)', [ids])
    .select('files.project_id', 'files.path', 'files.sha256', 'files.bytes')
    .orderByRaw('length(files.path), files.path')
    .limit(MOST_HITS);
  for (const word of words)
    void query.where((either) =>
      ROLES.has(word)
        ? either
            .whereRaw('lower(files.path) like lower(?)', [like(word)])
            .orWhereRaw(
              `exists (select from scans where scans.sha256 = files.sha256 and scans.scan->>'role' = ?)`,
              [word],
            )
        : either.whereRaw('lower(files.path) like lower(?)', [like(word)]),
    );
  if (over) void query.where('files.bytes', '>', over);
  if (under) void query.where('files.bytes', '<', under);
  return query;
}

/** Roles that a file can have; the rest of what is typed is looked for in its path. */
const ROLES: ReadonlySet<string> = new Set(['part', 'assembly', 'drawing', 'mesh', 'image', 'document']);

interface ProductHit extends FileHit {
  what: 'part' | 'component';
  name: string;
  /** Of a part its id, of a component the product that places it. */
  id: string;
  material: string | null;
}

async function productsOf(db: Database, ids: string[], wanted: Wanted): Promise<ProductHit[]> {
  const words = wanted.words.map(like);
  const all = (text: string) => words.map(() => `lower(${text}) like lower(?)`).join(' and ');
  const sizes = [
    ...(wanted.over ? ['and files.bytes > ?'] : []),
    ...(wanted.under ? ['and files.bytes < ?'] : []),
  ];
  const { rows } = await db.raw(
    `select files.project_id, files.path, files.sha256, files.bytes, found.*
     from files
     join scans on scans.sha256 = files.sha256 and ${all('scans.words')}
     cross join lateral (
       (select 'part' as what, coalesce(nullif(product->>'name', ''), product->>'id') as name,
               product->>'id' as id, product->>'material' as material
        from jsonb_array_elements(scans.scan->'products') product
        where not scans.scan->'placeholders' @> (product->'definition')
          and ${all("concat_ws(' ', product->>'id', product->>'name', product->>'material')")}
        limit ${MOST_OF_A_FILE})
       union all
       (select distinct 'component', occurrence->>'name', coalesce(nullif(product->>'name', ''), product->>'id'), null
        from jsonb_array_elements(scans.scan->'products') product,
             jsonb_array_elements(product->'occurrences') occurrence
        where ${all("occurrence->>'name'")}
        limit ${MOST_OF_A_FILE})
     ) found
     where files.project_id = any(?) ${sizes.join(' ')}
     limit ${MOST_HITS}`,
    [
      ...words,
      ...words,
      ...words,
      ids,
      ...(wanted.over ? [wanted.over] : []),
      ...(wanted.under ? [wanted.under] : []),
    ],
  );
  // A content that was scanned by an older version of the reader is there twice.
  return [
    ...new Map<string, ProductHit>(
      rows.map((hit: ProductHit) => [[hit.project_id, hit.path, hit.what, hit.name, hit.id].join('\0'), hit]),
    ).values(),
  ];
}

function whereOf({ what, name, id, material, path }: ProductHit): string {
  if (what === 'component') return `in ${id}, ${path}`;
  return [...(id === name || id === '' ? [] : [id]), ...(material ? [material] : []), path].join(', ');
}

/** The best of what fits: what begins with the first word, then what has a word that does, then what holds it; short names first. */
function bestOf(found: Placed[], first: string): Placed[] {
  return found
    .map((one) => ({ one, name: one.found.name, rank: rankOf(one.found.name, first) }))
    .sort((a, b) => a.rank - b.rank || a.name.length - b.name.length || (a.name < b.name ? -1 : 1))
    .slice(0, MOST)
    .map(({ one }) => one);
}

function rankOf(name: string, first: string): number {
  const at = name.toLowerCase().indexOf(first);
  if (at === 0) return 0;
  return at > 0 && /[^a-z0-9]/i.test(name[at - 1]!) ? 1 : 2;
}

/** Links of a project in whose file, words, target, kind and state all words stand that were typed; those first that want to be looked at. Linear in the links. */
export function* findLinksSteps({ links }: Pick<Project, 'links'>, typed: string): Steps<Found[]> {
  const { words } = readWanted(typed);
  if (words.length === 0) return [];
  const found: Found[] = [];
  let count = 0;
  for (const link of links) {
    if (count++ % RESTS === 0) yield;
    const { holder, kind, written, to, state } = link;
    const text = `${written} ${to ?? ''} ${kind} ${state}`.toLowerCase();
    // The file that it stands in is found by itself: a link is only meant where some word is its own.
    if (!words.some((word) => text.includes(word))) continue;
    if (!words.every((word) => text.includes(word) || holder.toLowerCase().includes(word))) continue;
    found.push({
      ...{ what: 'link', name: written, path: holder },
      where: `${kind} of ${holder}, ${state}`,
      ...(to === null && { broken: keyOfLink(link) }),
    });
  }
  return [...found.filter(({ broken }) => broken), ...found.filter(({ broken }) => !broken)].slice(0, MOST);
}
