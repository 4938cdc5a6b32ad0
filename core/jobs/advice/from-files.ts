import { baseName, foldPath } from '#core/files/links/paths';
import { append } from '#core/multimap';
import type { Matrix4 } from '#core/product/matrix';
import type { Product } from '#core/product/structure';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { MANIFEST_NAME } from '#core/project/formats/manifest';
import { bodyCount, ownProducts, topProductsOf } from '#core/project/scan/content';
import { fold, isGeneric } from '#core/project/scan/designations';
import {
  belongingFiles,
  type Project,
  placedBelow,
  rootsOf,
  type ScannedFile,
  standsForOther,
} from '#core/project/scan/project';
import type { Finding, FindingKind } from './finding';

/** So many solids in one part are many. */
const MANY_BODIES = 5;
/** Bytes from which on the weight of an assembly matters, and the part of all bytes below it that is most of them. */
const [HEAVY_BYTES, MOST_OF_THEM] = [2_000_000, 0.5];
/** mm: placings that differ by less are on top of one another. */
const SAME_PLACE = 1e-6;

/** What the files say by themselves, without their shapes. Each finder is linear in files, links and occurrences as they are written. */
export function findingsFromFiles(project: Project): Finding[] {
  const files = [...project.files.values()].filter(
    ({ path, scan }) => scan.error === null && path !== MANIFEST_NAME,
  );
  const finders = [
    loops,
    units,
    onTop,
    oneId,
    luck,
    caseOnly,
    looseBodies,
    manyBodies,
    copied,
    heavy,
    unused,
  ];
  return finders.flatMap((find) => find(project, files));
}

type Finder = (project: Project, files: readonly ScannedFile[]) => Finding[];

const finding = (kind: FindingKind, files: readonly string[], words: string, about = ''): Finding => ({
  kind,
  files: [...files],
  about,
  words,
});

const loops: Finder = ({ loops: found }) => {
  const known = new Set<string>();
  return [...found.values()].flatMap((loop) => {
    const members = [...loop].sort();
    const key = members.join('\0');
    if (known.has(key)) return [];
    known.add(key);
    return [
      finding(
        'loop',
        members,
        members.length === 1 ? `${members[0]} places itself.` : `${listed(members)} place each other.`,
      ),
    ];
  });
};

const units: Finder = (project, files) =>
  files.flatMap(({ path, scan }) => {
    if (scan.role !== 'assembly' || scan.unit === null) return [];
    const others = new Map<string, string[]>();
    for (const { to, kind } of project.uses.get(path) ?? []) {
      const unit = LINK_KINDS[kind].places && to !== null ? project.files.get(to)?.scan.unit : null;
      if (unit && unit !== scan.unit) append(others, unit, to!);
    }
    return [...others].map(([unit, parts]) =>
      finding(
        'units',
        [path, ...parts],
        `${path} is in ${scan.unit}; it places ${listed(parts)} in ${unit}.`,
        unit,
      ),
    );
  });

const onTop: Finder = (_, files) =>
  files.flatMap(({ path, scan }) =>
    scan.products.flatMap((product) => {
      const places = new Map<string, string[]>();
      for (const { child, placement, name } of product.occurrences)
        append(places, `${child} ${placeKey(placement)}`, name);
      const names = new Map(scan.products.map((one) => [one.definition, one.name]));
      return [...places].flatMap(([key, placed]) =>
        placed.length < 2
          ? []
          : [
              finding(
                'on-top',
                [path],
                `${product.name} in ${path} places ${names.get(Number(key.split(' ')[0])) ?? 'a part'} ${placed.length} times at the same place.`,
                `${product.name}: ${placed.join(', ')}`.slice(0, 300),
              ),
            ],
      );
    }),
  );

function placeKey(placement: Matrix4): string {
  return placement.map((value) => Math.round(value / SAME_PLACE)).join(',');
}

/** Files whose top product has the id; copies to the byte are another matter. */
const oneId: Finder = (project, files) => {
  const byId = new Map<string, { file: ScannedFile; product: Product }[]>();
  for (const file of files) {
    if (isMadeOfOther(project, file.path)) continue;
    for (const product of topProductsOf(file.scan)) {
      const id = fold(product.id);
      if (id !== '' && !isGeneric(id) && !product.isEmpty) append(byId, id, { file, product });
    }
  }
  return [...byId.values()].flatMap((carriers) => {
    const paths = [...new Set(carriers.map(({ file }) => file.path))];
    const contents = new Set(carriers.map(({ file }) => file.sha256));
    if (paths.length < 2 || contents.size < 2) return [];
    const { id } = carriers[0]!.product;
    return [
      finding('one-id', paths, `${listed(paths)} are different parts, and each has the number ${id}.`, id),
    ];
  });
};

/** What came out of another file by a recipe keeps its id on purpose. */
function isMadeOfOther(project: Project, path: string): boolean {
  return standsForOther(project, path) || (project.uses.get(path) ?? []).some(({ source }) => source);
}

const luck: Finder = (project) => {
  const found = new Map<string, string[]>();
  for (const { holder, kind, written, to, state, found: by } of project.links)
    if (
      state === 'sound' &&
      by !== undefined &&
      by !== 'as written' &&
      by !== 'search folder' &&
      kind !== 'listed'
    )
      append(found, JSON.stringify([holder, to, by]), written);
  return [...found].map(([key, written]) => {
    const [holder, to, by] = JSON.parse(key) as [string, string, string];
    const where = by === 'beside' ? 'beside it' : 'by its name only';
    return finding(
      'luck',
      [holder, to],
      `${holder} names ${written[0]}; ${to} was found ${where}.`,
      written[0],
    );
  });
};

const caseOnly: Finder = (_, files) => {
  const byFolded = new Map<string, string[]>();
  for (const { path } of files) append(byFolded, foldPath(path), path);
  return [...byFolded.values()].flatMap((paths) =>
    paths.length < 2 ? [] : [finding('case', paths, `${listed(paths)} differ in case only.`)],
  );
};

const looseBodies: Finder = (_, files) =>
  files.flatMap(({ path, scan }) =>
    ownProducts(scan).flatMap(({ name, bodies, occurrences }) => {
      const solids = bodies.filter(({ kind }) => kind === 'solid');
      if (solids.length === 0 || occurrences.length === 0) return [];
      const named = solids.slice(0, 3).map((body) => body.name || `#${body.id}`);
      const more = solids.length > 3 ? ` and ${solids.length - 3} more` : '';
      return [
        finding(
          'loose-body',
          [path],
          `${name} in ${path} places components and has ${solids.length === 1 ? 'a body' : `${solids.length} bodies`} of its own: ${named.join(', ')}${more}.`,
          name,
        ),
      ];
    }),
  );

const manyBodies: Finder = (project, files) =>
  files.flatMap(({ path, scan }) => {
    if (scan.role !== 'part' || isMadeOfOther(project, path)) return [];
    const isPlaced = (project.usedBy.get(path) ?? []).some(({ kind }) => LINK_KINDS[kind].places);
    const solids = scan.products.reduce(
      (sum, { bodies }) => sum + bodies.filter(({ kind }) => kind === 'solid').length,
      0,
    );
    if (!isPlaced || solids < MANY_BODIES) return [];
    return [finding('many-bodies', [path], `${path} is placed as one part and holds ${solids} bodies.`)];
  });

/** Parts with bodies that lie inside of assemblies, by their ids. */
const copied: Finder = (project, files) => {
  const byId = new Map<string, { path: string; id: string }[]>();
  for (const { path, scan } of files) {
    if (scan.role !== 'assembly' || isMadeOfOther(project, path)) continue;
    for (const { id, bodies, occurrences } of ownProducts(scan)) {
      const key = fold(id);
      if (bodies.length > 0 && occurrences.length === 0 && key !== '' && !isGeneric(key))
        append(byId, key, { path, id });
    }
  }
  return [...byId.values()].flatMap((carriers) => {
    const paths = [...new Set(carriers.map(({ path }) => path))];
    if (paths.length < 2) return [];
    const { id } = carriers[0]!;
    return [finding('copied', paths, `${listed(paths)} each carry a part ${id} of their own.`, id)];
  });
};

const heavy: Finder = (project, files) =>
  files.flatMap(({ path, scan, bytes }) => {
    if (scan.role !== 'assembly' || bytes < HEAVY_BYTES || bodyCount(scan) < 2) return [];
    const below = placedBelow(project, [path]);
    if (below.length < 2) return [];
    const all = below.reduce((sum, one) => sum + (project.files.get(one)?.bytes ?? 0), 0);
    if (bytes < MOST_OF_THEM * all) return [];
    return [
      finding(
        'heavy',
        [path],
        `${path} carries ${Math.round((100 * bytes) / all)} % of the ${(all / 1e6).toFixed(1)} MB that it and what it places take.`,
      ),
    ];
  });

const unused: Finder = (project, files) => {
  // Without any assembly nothing is left over.
  if (rootsOf(project).length === 0) return [];
  const belonging = belongingFiles(project);
  return files.flatMap(({ path }) =>
    belonging.has(path) ? [] : [finding('unused', [path], `${path} belongs to no root assembly.`)],
  );
};

function listed(paths: readonly string[]): string {
  const names = new Set(paths.map(baseName)).size === paths.length ? paths.map(baseName) : [...paths];
  const [first, second] = names;
  if (names.length === 1) return first!;
  if (names.length === 2) return `${first} and ${second}`;
  return `${first}, ${second} and ${names.length - 2} more`;
}
