import type { Product } from '#core/product/structure';
import type { ContentScan } from '#core/project/scan/content';
import type { ScannedFile } from '#core/project/scan/project';

/*
 * Projects as several kinds of systems write them, and what people do to their files outside. Facts only, no bytes: thousands of
 * links are tried in a second. Which file is meant is known, by its content.
 */

/** Numbers from 0 to 1, the same for the same seed (mulberry32). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** Names of parts, in the folders of their assemblies. */
export interface PartSet {
  name: string;
  assemblies: { path: string; parts: string[] }[];
}

const WORDS = ['housing', 'cover', 'shaft', 'flange', 'bracket', 'lever', 'bush', 'plate', 'spring', 'guide'];
const SIDES = ['left', 'right', 'upper', 'lower', 'front', 'rear'];
const capital = (word: string) => word[0]!.toUpperCase() + word.slice(1);

/** Sets of one kind each; other seeds give other names. */
export function partSets(seed: number): PartSet[] {
  const random = seeded(seed);
  const any = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!;
  const several = (count: number, make: (n: number) => string) => {
    const names = new Set<string>();
    for (let n = 0; names.size < count; n++) names.add(make(n));
    return [...names];
  };
  const size = () => Math.floor(random() * 90) + 4;
  return [
    {
      name: 'words',
      assemblies: [{ path: 'unit', parts: several(12, () => `${any(WORDS)}-${any(SIDES)}`) }],
    },
    {
      name: 'screws',
      assemblies: [
        {
          path: 'unit',
          parts: several(14, () => `screw-m${any([4, 5, 6, 8, 10])}x${any([10, 16, 20, 25, 30])}`),
        },
      ],
    },
    {
      name: 'numbers',
      assemblies: [{ path: 'unit', parts: several(12, () => `${4700 + size()}-${100 + size()}`) }],
    },
    {
      name: 'capitals',
      assemblies: [
        { path: 'unit', parts: several(12, () => `${capital(any(WORDS))}${capital(any(SIDES))}`) },
      ],
    },
    {
      name: 'counted',
      assemblies: [{ path: 'unit', parts: several(10, (n) => `plate-${String(n + 1).padStart(2, '0')}`) }],
    },
    {
      name: 'codes',
      assemblies: [
        {
          path: 'unit',
          parts: several(12, () => `${any(['HX', 'KD', 'LM'])}${size()}-${any(WORDS).slice(0, 3)}${size()}`),
        },
      ],
    },
    {
      name: 'two assemblies',
      assemblies: [
        { path: 'drive/drive', parts: several(8, () => `drive-${any(WORDS)}-${size()}`) },
        { path: 'frame/frame', parts: several(8, () => `frame-${any(WORDS)}-${size()}`) },
      ],
    },
    {
      name: 'many',
      assemblies: [{ path: 'unit', parts: several(60, () => `${any(WORDS)}_${any(SIDES)}_${size()}`) }],
    },
  ];
}

interface Said {
  id: string;
  name: string;
  volume?: number;
}

/** How a system designates a part: in the part's own file, and in the stand-in of the assembly. */
export interface Manner {
  name: string;
  part(stem: string, n: number): Said;
  standIn(stem: string, n: number): Said;
  /** Whether something in the file tells which part it is. */
  hasWitness: boolean;
}

const number = (n: number) => `88-${1000 + 7 * n}`;
const volume = (n: number) => 1000 + 313.7 * n;
const same = (name: string, hasWitness: boolean, say: Manner['part']): Manner => ({
  name,
  part: say,
  standIn: say,
  hasWitness,
});

export const MANNERS: readonly Manner[] = [
  same('ids and names', true, (stem, n) => ({ id: number(n), name: stem })),
  same('names only', true, (stem) => ({ id: '', name: stem })),
  same('ids only', true, (_, n) => ({ id: number(n), name: number(n) })),
  same('one id for a family', true, (stem) => ({ id: stem.slice(0, 5), name: stem })),
  {
    name: 'every part is MASTER',
    hasWitness: false,
    part: () => ({ id: 'MASTER', name: 'MASTER' }),
    standIn: (stem) => ({ id: stem, name: stem }),
  },
  same('all are MASTER', false, () => ({ id: 'MASTER', name: 'MASTER' })),
  same('nothing', false, () => ({ id: '', name: '' })),
  same('volumes only', true, (_, n) => ({ id: '', name: '', volume: volume(n) })),
  {
    name: 'MASTER with volumes',
    hasWitness: true,
    part: (_, n) => ({ id: 'MASTER', name: 'MASTER', volume: volume(n) }),
    standIn: (stem, n) => ({ id: stem, name: stem, volume: volume(n) }),
  },
  {
    name: 'stand-ins of another system',
    hasWitness: false,
    part: (_, n) => ({ id: `P${9000 + n * 7}`, name: `Solid ${n}` }),
    standIn: (stem) => ({ id: `${stem}_1`, name: `${stem}_1` }),
  },
  {
    name: 'ids, and names of another language',
    hasWitness: true,
    part: (stem, n) => ({ id: number(n), name: [...stem].reverse().join('') }),
    standIn: (stem, n) => ({ id: number(n), name: stem }),
  },
];

const renamed = (path: string, how: (stem: string) => string) =>
  path.replace(/[^/]+(?=\.\w+$)/, (stem) => how(stem));

/** What was done to a file, or to several that belong together. */
export interface Damage {
  name: string;
  /** New paths of files; null for one that is gone. */
  do(paths: readonly string[], random: () => number): (string | null)[];
  /** Files that nobody uses and that lie around besides, by the numbers of the parts whose contents they resemble. */
  litter?(paths: readonly string[]): { path: string; like: number }[];
  /** Names say nothing afterwards, or the wrong thing. */
  isWithoutNames?: boolean;
}

const each = (name: string, how: (stem: string) => string, folder?: (path: string) => string): Damage => ({
  name,
  do: (paths) => paths.map((path) => renamed(folder ? folder(path) : path, how)),
});
const rotated = (paths: readonly string[], by: number) =>
  paths.map((_, n) => paths[(n + by) % paths.length]!);
const into = (folder: string) => (path: string) => `${folder}/${path.split('/').at(-1)}`;

export const DAMAGES: readonly Damage[] = [
  each('a revision', (stem) => `${stem}_rev-b`),
  each('a short revision', (stem) => `${stem}_B`),
  each('a number', (stem) => `${stem}-001`),
  {
    name: 'a running number',
    do: (paths) => paths.map((path, n) => renamed(path, (stem) => `${stem}_${101 + n}`)),
  },
  each('a prefix', (stem) => `HX12_${stem}`),
  each('a long prefix', (stem) => `released for production ${stem}`),
  {
    name: 'a running prefix',
    do: (paths) => paths.map((path, n) => renamed(path, (stem) => `${10 + n}-${stem}`)),
  },
  each('upper case and a copy', (stem) => `${stem.toUpperCase()} (2)`),
  each('other separators, another folder', (stem) => `${stem.replaceAll('-', ' ')}_`, into('parts')),
  each(
    'capitals',
    (stem) =>
      `${stem
        .split(/[-_ ]/)
        .map((word) => word && capital(word))
        .join('')}X`,
  ),
  each('words turned', (stem) => `${stem.split(/[-_]/).reverse().join('_')}_1`),
  each('vowels dropped', (stem) => `${stem[0] + stem.slice(1).replace(/[aeiou]/g, '')}_`),
  each('cut', (stem) => stem.slice(0, Math.max(6, stem.length - 3))),
  each('released elsewhere', (stem) => `${stem}-v2`, into('released/2026')),
  { name: 'another ending', do: (paths) => paths.map((path) => path.replace(/\.stp$/, '.step')) },
  {
    name: 'random names',
    isWithoutNames: true,
    do: (paths, random) =>
      paths.map((path) => renamed(path, () => `zz ${Math.floor(random() * 1e9).toString(36)}`)),
  },
  { name: 'swapped or turned round', isWithoutNames: true, do: (paths) => rotated(paths, 1) },
  { name: 'turned the other way', isWithoutNames: true, do: (paths) => rotated(paths, paths.length - 1) },
  {
    name: 'turned round, with a suffix',
    isWithoutNames: true,
    do: (paths) => rotated(paths, 1).map((path) => renamed(path, (stem) => `${stem}_r2`)),
  },
  { name: 'gone', do: (paths) => paths.map(() => null) },
  {
    name: 'gone, with older versions left over',
    do: (paths) => paths.map(() => null),
    litter: (paths) =>
      paths.map((path, n) => ({ path: `unused/${n} ${path.split('/').at(-1)}`, like: -1 - n })),
  },
  {
    name: 'a revision, with others lying around',
    do: (paths) => paths.map((path) => renamed(path, (stem) => `${stem}_rev-c`)),
    litter: (paths) => paths.map((_, n) => ({ path: `trials/trial ${n}.stp`, like: -1 - n })),
  },
];

export interface DamagedProject {
  files: ScannedFile[];
  /** For each component link, `holder::written`: the hash of the content that is meant. */
  meant: Map<string, string>;
}

/** A project before (`damage` null) or after some of its parts were damaged. @param share of the parts, at least two */
export function damagedProject(
  { assemblies }: PartSet,
  manner: Manner,
  damage: Damage | null,
  share: number,
  random: () => number,
): DamagedProject {
  const parts = assemblies.flatMap(({ path, parts: stems }) => {
    const folder = path.includes('/') ? `${path.split('/')[0]}/` : '';
    return stems.map((stem) => ({
      stem,
      path: `${folder}parts/${stem}.stp`,
      holder: `${path}.stp`,
      written: `parts/${stem}.stp`,
    }));
  });
  const order = parts.map((_, n) => ({ n, at: random() })).sort((a, b) => a.at - b.at);
  const struck = order
    .slice(0, Math.max(share < 0.1 ? 1 : 2, Math.round(share * parts.length)))
    .map(({ n }) => n);
  const paths: (string | null)[] = parts.map(({ path }) => path);
  const litter: ScannedFile[] = [];
  if (damage) {
    const before = struck.map((n) => parts[n]!.path);
    const after = damage.do(before, random);
    for (const n of struck) paths[n] = null;
    // A name that another file has already is not given twice.
    for (const [k, n] of struck.entries()) {
      const isTaken = after[k] !== null && paths.includes(after[k]!);
      paths[n] = isTaken ? before[k]! : after[k]!;
    }
    for (const { path, like } of damage.litter?.(before) ?? [])
      litter.push(
        partFile(path, `litter ${path}`, { id: `OLD${like}`, name: `trial ${-like}`, volume: 7 - like }),
      );
  }
  const files: ScannedFile[] = [...litter];
  const meant = new Map<string, string>();
  for (const [n, { stem, holder, written }] of parts.entries()) {
    meant.set(`${holder}::${written}`, `content ${n}`);
    if (paths[n] !== null) files.push(partFile(paths[n]!, `content ${n}`, manner.part(stem, n)));
  }
  for (const { path } of assemblies) {
    const holder = `${path}.stp`;
    const own = parts.flatMap((part, n) => (part.holder === holder ? [{ ...part, n }] : []));
    files.push(
      holderOf(
        holder,
        own.map(({ stem, written, n }) => ({ written, said: manner.standIn(stem, n) })),
      ),
    );
  }
  return { files, meant };
}

const FACTS = {
  format: 'step',
  schema: 'AUTOMOTIVE_DESIGN',
  unit: 'mm',
  placeholders: [],
  links: [],
  oldForms: [],
  error: null,
  damage: null,
};

function product(definition: number, { id, name, volume: stated }: Said): Product {
  return {
    definition,
    id,
    name: name || id || `#${definition}`,
    bodies: [],
    occurrences: [],
    ...(stated !== undefined && { statedSize: { volume: stated } }),
  };
}

/** A part's file. */
export function partFile(path: string, sha256: string, said: Said): ScannedFile {
  const own = product(10, said);
  own.bodies.push({ id: 100, kind: 'solid', name: '', colour: null });
  const scan: ContentScan = { ...FACTS, role: 'part', products: [own] };
  return { path, bytes: 1000, sha256, scan };
}

/** An assembly with a stand-in for each of its links. */
export function holderOf(path: string, links: readonly { written: string; said: Said }[]): ScannedFile {
  const top = product(10, { id: path, name: path });
  const standIns = links.map(({ said }, n) => product(100 + n, said));
  const scan: ContentScan = {
    ...FACTS,
    role: 'assembly',
    products: [top, ...standIns],
    placeholders: standIns.map(({ definition }) => definition),
    links: links.map(({ written }, n) => ({
      kind: 'component',
      written,
      definitions: [100 + n],
      places: [],
    })),
  };
  return { path, bytes: 1000, sha256: `assembly ${path}`, scan };
}
