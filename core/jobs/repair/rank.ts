import { baseName, extensionOf, folderOf, parseWritten, resolveSegments } from '#core/files/links/paths';
import { isBroken, writtenPath } from '#core/files/links/resolve';
import type { SourceMemory } from '#core/product/source/memory';
import { formatByName, hasStructure, roleByName } from '#core/project/formats/endings';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { bodyCount, ownProducts } from '#core/project/scan/content';
import { type Designation, wantedBy } from '#core/project/scan/fit';
import type { Project, ProjectLink, ScannedFile } from '#core/project/scan/project';
import { atOnce, type Steps } from '#core/steps';
import { nameLikeness } from './name-likeness';
import { wouldLoop } from './plan';
import { isShaped, offeredBy, ProjectSigns } from './signs';

/** One thing that speaks for or against a candidate. */
export interface Evidence {
  /** Part of the doubt that it takes away, 0 to 1; negative when it speaks against the candidate. */
  weight: number;
  words: string;
}

/** A file that may be the one a broken link means. */
export interface Candidate {
  path: string;
  /** 0 to 1. */
  score: number;
  evidence: Evidence[];
  /** Set when choosing it would do harm: why. */
  unusable: string | null;
}

/** What is remembered of the file that the link last led to. */
export interface LastTarget {
  sha256: string;
  bodies?: number;
  unit?: string | null;
  /** Size of the box around all bodies, millimetres. */
  box?: readonly [number, number, number];
}

export interface RankOptions {
  lastTarget?: LastTarget;
  /** Sizes of the boxes of candidates, where they are known, by content hash. */
  boxes?: ReadonlyMap<string, readonly [number, number, number]>;
  /** How many candidates to return. */
  most?: number;
}

/**
 * Ranks the files that a missing or ambiguous link may mean.
 *
 * Each piece of evidence takes away part of the doubt that is left: `score = 1 - product of (1 - weight)`, then
 * evidence against the candidate scales it down. So no single weak sign decides, and several agreeing ones do.
 * Cost grows with the number of files; `sha256` and product ids are compared, nothing is read.
 */
export function rankCandidates(project: Project, link: ProjectLink, options: RankOptions = {}): Candidate[] {
  return atOnce(rankSteps(project, link, options));
}

/** The same in steps. */
export function* rankSteps(
  project: Project,
  link: ProjectLink,
  options: RankOptions = {},
): Steps<Candidate[]> {
  const asking = askingLink(project, link);
  const holder = project.files.get(asking.holder);
  const wanted = holder ? wantedBy(holder, asking.definitions) : [];
  const others = holder?.scan.products.filter((product) => !wanted.includes(product)) ?? [];
  const signs = yield* ProjectSigns.steps(project);
  const candidates: Candidate[] = [];
  let steps = 0;
  for (const file of project.files.values()) {
    if (steps++ % 32 === 0) yield;
    if (file.path === link.holder || !isOfTheKind(file, link)) continue;
    const evidence = [
      ...(link.source
        ? sourceEvidence(project, file, link, link.source, wanted)
        : [
            // What a doubted link leads to is no evidence for itself.
            ...(file.path === link.doubted ? [] : contentEvidence(file, options)),
            ...productEvidence(
              signs,
              file,
              asking,
              wanted,
              others,
              file.sha256 === options.lastTarget?.sha256,
            ),
          ]),
      ...nameEvidence(file, link),
      ...folderEvidence(file, link),
      ...usageEvidence(project, signs, file, link),
    ];
    const score = combine(evidence);
    if (score >= 0.15) candidates.push({ path: file.path, score, evidence, unusable: null });
  }
  candidates.sort((a, b) => b.score - a.score || (a.path < b.path ? -1 : 1));
  const best = candidates.slice(0, options.most ?? 12);
  for (const candidate of best) candidate.unusable = whyUnusable(project, link, candidate.path);
  return best.sort((a, b) => Number(a.unusable !== null) - Number(b.unusable !== null));
}

/**
 * The link that says which part is meant: the link itself, or, where it cannot say (a drawing names a file and nothing more), a
 * component's that leads to the same path and is broken, too.
 */
function askingLink(project: Project, link: ProjectLink): ProjectLink {
  const path = writtenPath(link.holder, link.written);
  if (!LINK_KINDS[link.kind].isAbout || path === undefined) return link;
  const asksForIt = ({ kind, state, holder, written }: ProjectLink) =>
    LINK_KINDS[kind].places && isBroken(state) && writtenPath(holder, written) === path;
  return project.links.find(asksForIt) ?? link;
}

/** Whether a file is at all what a link of its kind leads to: a shape, or what has the same ending as what is written. */
function isOfTheKind(file: ScannedFile, { kind, written }: ProjectLink): boolean {
  if (LINK_KINDS[kind].places || LINK_KINDS[kind].isAbout || kind === 'source' || kind === 'context')
    return isShaped(file);
  const isImage = roleByName(written) === 'image' && file.scan.role === 'image';
  return isImage || extensionOf(file.path) === extensionOf(written);
}

/** Two candidates nearer than this in score are a toss-up, which no automatic repair decides. */
export const CLEAR_LEAD = 0.04;

/** The candidate that may be taken without asking: usable, at or above the threshold, and clearly ahead of the next. */
export function clearWinner(candidates: readonly Candidate[], threshold: number): Candidate | undefined {
  const [first, second] = candidates.filter(({ unusable }) => unusable === null);
  if (!first || first.score < threshold) return undefined;
  return second && first.score - second.score < CLEAR_LEAD ? undefined : first;
}

function contentEvidence(file: ScannedFile, { lastTarget, boxes }: RankOptions): Evidence[] {
  if (!lastTarget) return [];
  if (file.sha256 === lastTarget.sha256)
    return [{ weight: 0.997, words: 'Same content as the file that the link last led to' }];
  const evidence: Evidence[] = [];
  const bodies = bodyCount(file.scan);
  if (lastTarget.bodies !== undefined && bodies > 0) {
    if (lastTarget.bodies === bodies)
      evidence.push({ weight: 0.08, words: `${bodies} ${bodies === 1 ? 'body' : 'bodies'}, as before` });
    else evidence.push({ weight: -0.1, words: `${bodies} bodies where there were ${lastTarget.bodies}` });
  }
  if (lastTarget.unit && file.scan.unit && lastTarget.unit !== file.scan.unit)
    evidence.push({ weight: -0.1, words: `Unit is ${file.scan.unit}, was ${lastTarget.unit}` });
  const box = boxes?.get(file.sha256);
  if (lastTarget.box && box) {
    const apart = Math.max(
      ...box.map(
        (size, n) => Math.abs(size - lastTarget.box![n]!) / Math.max(size, lastTarget.box![n]!, 1e-9),
      ),
    );
    if (apart < 0.001) evidence.push({ weight: 0.5, words: 'Box of the same size as before' });
    else if (apart < 0.1) evidence.push({ weight: 0.25, words: 'Box of nearly the same size as before' });
    else evidence.push({ weight: -0.25, words: 'Box of another size than before' });
  }
  return evidence;
}

/**
 * What speaks for a file that others came out of: the link itself remembers the version that was taken, and the bodies
 * of it. A newer version has other bytes and most of the bodies.
 */
function sourceEvidence(
  project: Project,
  file: ScannedFile,
  link: ProjectLink,
  { sha256, bodies }: SourceMemory,
  holder: { id: string; name: string }[],
): Evidence[] {
  if (sha256 !== null && file.sha256 === sha256)
    return [{ weight: 0.985, words: `The very version that ${baseName(link.holder)} was taken from` }];
  const evidence: Evidence[] = [];
  const own = ownProducts(file.scan);
  if (bodies.length > 0) {
    const there = own.flatMap((product) => product.bodies);
    const names = new Set(there.map(({ name }) => name));
    const numbers = new Map(there.map(({ id, name }) => [id, name]));
    const found = bodies.filter(({ id, name }) => (name === '' ? numbers.has(id) : names.has(name)));
    const which = bodies[0]!.name || `#${bodies[0]!.id}`;
    const what = bodies.length === 1 ? `the body ${which}` : `the ${bodies.length} bodies`;
    if (found.length === bodies.length)
      evidence.push({
        weight: bodies.every(({ id, name }) => numbers.get(id) === name) ? 0.8 : 0.65,
        words: `Has ${what} that the file was taken from`,
      });
    else if (found.length > 0)
      evidence.push({ weight: 0.3, words: `Has ${found.length} of ${what} that the file was taken from` });
    else evidence.push({ weight: -0.5, words: `Does not have ${what} that the file was taken from` });
  } else {
    // The assembly of a split has its source's name.
    const same = own.find(({ name }) => name !== '' && holder.some((product) => product.name === name));
    if (same) evidence.push({ weight: 0.6, words: `Product ${same.name} has the name of the assembly` });
  }
  if ((project.uses.get(file.path) ?? []).some(({ source }) => source))
    evidence.push({ weight: -0.6, words: 'Came out of another file itself' });
  return evidence;
}

/**
 * What the products of a file say. An id that only this file carries says most; one that several carry little. That nothing
 * agrees speaks against the file as far as the holder's other links show that its stand-ins are to be believed.
 */
function productEvidence(
  signs: ProjectSigns,
  file: ScannedFile,
  link: ProjectLink,
  wanted: readonly Designation[],
  others: readonly Designation[],
  sameContent: boolean,
): Evidence[] {
  const offered = offeredBy(file);
  const trust = signs.trustIn(link);
  const same = (sign: 'id' | 'name', asked = wanted) =>
    asked.find(
      (want) =>
        want[sign] !== '' &&
        offered.some((product) => product[sign].toLowerCase() === want[sign].toLowerCase()),
    );
  const evidence: Evidence[] = [];
  const byId = same('id');
  const byName = same('name');
  const weigh = (sign: 'id' | 'name', value: string, whole: number) => {
    const carriers = signs.carriers(sign, value);
    // What the assembly asks for several times over means a family of parts, whoever carries it now.
    const askers = others.filter((other) => other[sign].toLowerCase() === value.toLowerCase()).length + 1;
    const many = carriers > 1 ? `; ${carriers} files carry it` : '';
    return {
      weight: (whole * (0.5 + 0.5 * trust)) / Math.max(carriers, askers),
      words: `Product ${sign} ${value} is the one that the assembly asks for${many}`,
    };
  };
  if (byId) evidence.push(weigh('id', byId.id, 0.92));
  if (byName && byName.name !== byId?.id) evidence.push(weigh('name', byName.name, 0.7));
  // Content that the link led to before needs no name to speak for it.
  if (sameContent || wanted.length === 0 || offered.length === 0 || trust < 0.05) return evidence;
  // In a family that shares an id, the name tells whose it is.
  const isAnothers = byName ? undefined : ((byId ? undefined : same('id', others)) ?? same('name', others));
  if (isAnothers || (!byId && !byName)) {
    evidence.push({
      weight: (isAnothers ? -0.6 : -0.4) * trust,
      words: isAnothers
        ? `Is ${offered[0]!.name}, which the assembly asks for elsewhere`
        : `Is ${offered[0]!.name}; the assembly asks for ${wanted[0]!.name}`,
    });
  }
  return evidence;
}

function nameEvidence(file: ScannedFile, link: ProjectLink): Evidence[] {
  const { score, words } = nameLikeness(baseName(link.written), baseName(file.path));
  const sameKind =
    extensionOf(link.written) === extensionOf(file.path) ||
    (formatByName(link.written) === file.scan.format && hasStructure(link.written));
  if (score < 0.4) return [];
  return [{ weight: score ** 2 * (sameKind ? 0.75 : 0.4), words }];
}

function folderEvidence(file: ScannedFile, link: ProjectLink): Evidence[] {
  const [holder, candidate] = [folderOf(link.holder), folderOf(file.path)];
  const { origin, segments } = parseWritten(link.written);
  const writtenFolder = segments.at(-2)?.toLowerCase();
  const isThere =
    origin === 'relative' &&
    resolveSegments(holder, segments.slice(0, -1))?.toLowerCase() === candidate.toLowerCase();
  if (holder === candidate) return [{ weight: isThere ? 0.2 : 0.12, words: 'In the folder of the assembly' }];
  if (writtenFolder && candidate.split('/').at(-1)?.toLowerCase() === writtenFolder)
    return [{ weight: isThere ? 0.2 : 0.12, words: `In a folder named ${writtenFolder}, as written` }];
  if (holder.startsWith(`${candidate}/`) || candidate.startsWith(`${holder}/`) || holder === '')
    return [{ weight: 0.06, words: 'In a folder near the assembly' }];
  return [];
}

function usageEvidence(
  project: Project,
  signs: ProjectSigns,
  file: ScannedFile,
  link: ProjectLink,
): Evidence[] {
  const users = (project.usedBy.get(file.path) ?? []).filter(
    ({ kind, holder }) => kind === 'component' && holder === link.holder,
  );
  if (users.length > 0) {
    const isNamedSo = users.some(
      ({ written }) => baseName(written).toLowerCase() === baseName(file.path).toLowerCase(),
    );
    return [
      {
        weight: isNamedSo ? -0.6 : -0.3,
        words: `Already used by another link of ${baseName(link.holder)}${isNamedSo ? ', under its own name' : ''}`,
      },
    ];
  }
  if (link.kind !== 'component' || !signs.leftOver.has(file.path)) return [];
  if (signs.leftOver.size > 1) return [{ weight: 0.14, words: 'Nothing uses it' }];
  return [{ weight: signs.missed === 1 ? 0.5 : 0.3, words: 'The only file that nothing uses' }];
}

function combine(evidence: readonly Evidence[]): number {
  let doubt = 1;
  let against = 1;
  for (const { weight } of evidence) {
    if (weight >= 0) doubt *= 1 - weight;
    else against *= 1 + weight;
  }
  return Math.round((1 - doubt) * against * 1000) / 1000;
}

function whyUnusable(project: Project, link: ProjectLink, path: string): string | null {
  if (wouldLoop(project, link, path))
    return `Would make a loop: ${baseName(path)} itself uses ${baseName(link.holder)}`;
  const error = project.files.get(path)?.scan.error;
  return error ? `Cannot be read: ${error}` : null;
}
