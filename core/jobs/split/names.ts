import { freePath, joinPath, pathProblem, stemOf, typedFolder } from '#core/files/links/paths';
import { newFileName } from '#core/project/formats/endings';
import { fittingStem, LONGEST_STEM } from '#core/project/formats/file-stem';
import { materialOf, nameOfBody, type SplitChoices } from './choices';
import { groupNames, leadingWords } from './group-names';
import { bodiesIn, type GroupFacts, type SplitGroup } from './groups';

/** The name of a component, and of its file. */
export interface ComponentName {
  /** The product's name. */
  name: string;
  /** Path of the file, in the folder of the split. */
  file: string;
  /** The engineer typed it: then a problem is shown and not quietly mended. */
  typed: boolean;
  problem: string | null;
  /** A name that would do, when there is a problem. */
  proposal: string | null;
}

/**
 * Names the components: as typed, after their body, or by the pattern. Names that nobody typed are made to fit
 * (signs that not every system stores, clashes, great length); typed ones get a problem and a proposal.
 * @param taken whether a path is in use already; letters in either case are the same
 */
export function nameComponents(
  groups: readonly SplitGroup[],
  choices: SplitChoices,
  source: { stem: string; folder: string },
  facts: (group: SplitGroup) => GroupFacts | undefined,
  taken: (path: string) => boolean,
): ComponentName[] {
  const used = new Set<string>();
  const free = (stem: string) => !used.has(stem.toLowerCase()) && !taken(pathOf(source.folder, stem));
  const digits = Math.max(2, String(groups.length).length);
  const typedNames = groups.map((group) =>
    bodiesIn(group)
      .map((body) => choices.names[String(body.id)])
      .find((name) => name !== undefined),
  );

  const bodyNames = groupNames(groups.map((group) => ownNames(group, choices)));
  const madeUp = groups.map(
    (group, n) =>
      (choices.naming === 'body' ? bodyNames[n]! : '') ||
      patternName(group, n, digits, choices, source.stem, facts),
  );
  const untyped = madeUp.filter((_, n) => typedNames[n] === undefined);
  const theirs = new Set(untyped.flatMap((name) => [name.toLowerCase(), fittingStem(name).toLowerCase()]));

  // Typed names choose first, so that a made-up one never takes a typed one's file.
  const names: ComponentName[] = [];
  for (const [n, typed] of typedNames.entries()) {
    if (typed === undefined) continue;
    const name = typed.trim();
    const stem = fittingStem(name);
    const trouble = nameTrouble(name);
    const isFree = (candidate: string) => free(candidate) && !theirs.has(candidate.toLowerCase());
    const clash = trouble === null && !isFree(name);
    const wanted = trouble === null ? name : stem;
    const proposal = freeStem(
      wanted || patternName(groups[n]!, n, digits, choices, source.stem, facts),
      isFree,
    );
    const file = pathOf(source.folder, trouble || clash ? proposal : name);
    used.add((trouble || clash ? proposal : name).toLowerCase());
    names[n] = {
      name: name || proposal,
      file,
      typed: true,
      problem: trouble ?? (clash ? `Another ${free(name) ? 'component' : 'file'} has this name.` : null),
      proposal: trouble || clash ? proposal : null,
    };
  }
  for (const [n, name] of madeUp.entries()) {
    if (names[n]) continue;
    const stem = freeStem(fittingStem(name) || fittingStem(`${source.stem}-${n + 1}`), free);
    used.add(stem.toLowerCase());
    names[n] = { name, file: pathOf(source.folder, stem), typed: false, problem: null, proposal: null };
  }
  return names;
}

function nameTrouble(name: string): string | null {
  if (name === '') return 'A component needs a name.';
  if (/[\\/]/.test(name)) return 'A name cannot hold / or \\.';
  if (name.length > LONGEST_STEM)
    return `A file name of more than ${LONGEST_STEM} characters is asking for trouble.`;
  const problem = pathProblem(newFileName(name), true);
  return problem ? `${problem[0]!.toUpperCase()}${problem.slice(1)}.` : null;
}

/** Names of the bodies of a component; bodies that belong together go by the first where they have no word in common. */
function ownNames(group: SplitGroup, choices: SplitChoices): string[] {
  const names = bodiesIn(group).map((body) => nameOfBody(choices, body).trim());
  return group.joined.length > 0 && leadingWords(names) === '' ? names.slice(0, 1) : names;
}

/** What a pattern makes of a group. */
function patternName(
  group: SplitGroup,
  n: number,
  digits: number,
  choices: SplitChoices,
  source: string,
  facts: (group: SplitGroup) => GroupFacts | undefined,
): string {
  const box = facts(group)?.box;
  const sides = box ? [box[3] - box[0], box[4] - box[1], box[5] - box[2]].sort((a, b) => b - a) : [];
  const values: { [token: string]: string } = {
    source,
    number: String(n + 1).padStart(digits, '0'),
    body: nameOfBody(choices, group.representative).trim(),
    material: materialOf(choices, bodiesIn(group)) ?? '',
    size: sides.map((side) => side.toFixed(0)).join('x'),
  };
  const name = choices.pattern.replace(/\{(\w+)\}/g, (whole, token: string) => values[token] ?? whole).trim();
  return name || `${source}-${values.number}`;
}

/** The name itself, or else the first that is free with a number behind it. */
function freeStem(stem: string, free: (stem: string) => boolean): string {
  return stemOf(freePath(newFileName(stem), (candidate) => !free(stemOf(candidate))));
}

function pathOf(folder: string, stem: string): string {
  return joinPath(folder, newFileName(stem));
}

/** Folder that the new files go to unless another is chosen: named after the source, beside it. */
export function splitFolder(path: string, folder: string | null): string {
  if (folder !== null) return typedFolder(folder);
  const at = path.lastIndexOf('/');
  return at < 0 ? stemOf(path) : `${path.slice(0, at)}/${stemOf(path)}`;
}
