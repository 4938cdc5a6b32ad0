import { baseName, folderOf } from '#core/files/links/paths';
import { explainTogether, type MovedFolder, relocated } from '#core/jobs/repair/moved-folder';
import { brokenLinks } from '#core/jobs/repair/plan';
import type { Candidate, Ranking } from '#core/jobs/repair/rank';
import { clearWinner } from '#core/jobs/repair/rank';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { refusalOf } from '#core/refusal';
import type { Steps } from '#core/steps';
import { type BrokenLink, brokenLinkView } from './repair-view';

/** At or above it a proposal is taken without a look at each. */
const CLEAR = 0.9;

/** So much of the evidence stands in a row; the whole below it. */
const MOST_WORDS = 2;

/** A broken link among all others, with the file that is proposed for it. */
export interface RepairRow extends BrokenLink {
  /** The file that is proposed; null where none can be used. */
  target: string | null;
  /** 0 to 1; null for what somebody has said. */
  score: number | null;
  /** What speaks for it, or why nothing is proposed. */
  why: string;
  /** Whether it may be taken without a look. */
  isClear: boolean;
  /** Position among the groups; null for a link of its own. */
  group: number | null;
}

/** Broken links that one thing that has happened explains, in words. */
export interface RepairGroup {
  words: string;
  /** For searching and replacing the folder. */
  moved: MovedFolder | null;
}

export interface RepairTable {
  rows: RepairRow[];
  groups: RepairGroup[];
  /** What the folder that was said to have moved explains, or why it explains nothing. */
  moved: { folder: MovedFolder; explained: number; left: number; trouble: string | null } | null;
}

/**
 * All broken links with what is proposed for each, those together that have one reason.
 * @param said a folder that somebody says has moved: it goes before what is proposed otherwise
 */
export function* repairTableSteps(
  project: Project,
  ranking: Ranking,
  said: MovedFolder | null,
): Steps<RepairTable> {
  const links = brokenLinks(project);
  const { targets, moved } = whatIsSaid(project, said);
  const rows: RepairRow[] = [];
  for (const link of links) {
    if (rows.length % 64 === 0) yield;
    rows.push({
      ...brokenLinkView(project, link),
      ...proposalFor(link, ranking.get(link) ?? [], targets.get(link), said),
      group: null,
    });
  }
  yield;
  const explained = explainTogether(
    links,
    rows.map(({ target }) => target),
  );
  const groups = explained.map(({ what, links: own }, n): RepairGroup => {
    for (const row of own) rows[row]!.group = n;
    if ('file' in what) {
      const isRenamed = baseName(what.file) !== what.asked;
      return {
        words: `ask for ${what.asked}: it is ${isRenamed ? what.file : `in ${folderInWords(folderOf(what.file))}`} now`,
        moved: null,
      };
    }
    return {
      words: `lead to ${folderInWords(what.from)}: it is ${folderInWords(what.to)} now`,
      moved: what,
    };
  });
  return { rows, groups, moved };
}

function folderInWords(folder: string): string {
  return folder || 'the top folder';
}

/** A folder that somebody says has moved explains some links, or none: then it says why. */
function whatIsSaid(project: Project, folder: MovedFolder | null) {
  const nothing: ReadonlyMap<ProjectLink, string> = new Map();
  if (!folder) return { targets: nothing, moved: null };
  try {
    const { targets, left } = relocated(project, folder);
    return { targets, moved: { folder, explained: targets.size, left: left.length, trouble: null } };
  } catch (error) {
    const trouble = refusalOf(error);
    if (trouble === undefined) throw error;
    return { targets: nothing, moved: { folder, explained: 0, left: 0, trouble } };
  }
}

function proposalFor(
  link: ProjectLink,
  candidates: readonly Candidate[],
  said: string | undefined,
  moved: MovedFolder | null,
): Pick<RepairRow, 'target' | 'score' | 'why' | 'isClear'> {
  if (said !== undefined && moved)
    return {
      target: said,
      score: null,
      why: `You say that ${folderInWords(moved.from)} is ${folderInWords(moved.to)} now.`,
      isClear: true,
    };
  const best = candidates.find(({ unusable }) => unusable === null);
  if (!best) return { target: null, score: null, why: whyNone(link, candidates), isClear: false };
  const speaking = best.evidence.filter(({ weight }) => weight > 0).slice(0, MOST_WORDS);
  return {
    target: best.path,
    score: best.score,
    why: speaking.map(({ words }) => words).join(' '),
    isClear: clearWinner(candidates, CLEAR) !== undefined,
  };
}

function whyNone({ state }: ProjectLink, [first]: readonly Candidate[]): string {
  if (state === 'loop')
    return 'These files place each other: a link that leads elsewhere would not break the loop.';
  return first?.unusable ?? 'No file of this project comes near.';
}
