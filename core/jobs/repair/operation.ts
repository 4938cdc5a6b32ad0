import { z } from 'zod';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { LINK_KIND_NAMES } from '#core/project/formats/kinds';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { relocated } from './moved-folder';
import { brokenLinks, findLink, linksWrittenAlike, planRepair, type RepairChoice } from './plan';
import { type Candidate, clearWinner, rankCandidates } from './rank';

const Kind = z.enum(LINK_KIND_NAMES);

export const RepairChoices = z.object({
  set: z
    .array(
      z.object({
        holder: z.string(),
        kind: Kind.optional(),
        written: z.string(),
        target: z.string(),
      }),
    )
    .max(MOST_CHOSEN)
    .default([])
    .describe('point one link at one file'),
  alike: z.boolean().default(false).describe('and every broken link that is written with the same file name'),
  moved: z
    .array(z.object({ from: z.string(), to: z.string() }))
    .max(100)
    .default([])
    .describe('what lay in one folder lies in another now: links into it follow'),
  accept: z
    .number()
    .min(0)
    .max(1)
    .nullable()
    .default(null)
    .describe('take the best candidate at or above this score (0 to 1)'),
});
export type RepairChoices = z.infer<typeof RepairChoices>;

/** So many links are repaired while somebody waits. */
const FEW = 10;

/** A broken link that nobody chose a file for. */
export interface OpenLink {
  link: ProjectLink;
  candidates: readonly Candidate[];
}

/** Points broken links at the files that are meant. */
export const REPAIR = operation<RepairChoices, { open: OpenLink[] | null }, unknown, Planning>({
  name: 'repair',
  title: 'Repair desk',
  purpose: 'Point broken links at the right files.',
  place: 'links',
  page: 'repair',
  role: 'editor',
  accepts: { what: 'link' },
  choices: RepairChoices,
  // Each holder is written anew.
  cost: ({ set, alike, accept, moved }) =>
    set.length > FEW || alike || accept !== null || moved.length > 0 ? 'slow' : 'quick',
  async plan(context, { set, alike, accept, moved }) {
    const { project } = context;
    const chosen = new Map<string, RepairChoice>();
    const choose = (choice: RepairChoice) =>
      chosen.set(`${choice.holder}\n${choice.kind ?? ''}\n${choice.written}`, choice);
    for (const choice of set) {
      const { holder, written } = choice;
      choose({ ...choice, kind: choice.kind ?? findLink(project, holder, undefined, written)?.kind });
      if (!alike) continue;
      for (const { holder, kind, written } of linksWrittenAlike(project, choice))
        if (holder !== choice.target) choose({ holder: holder, kind, written, target: choice.target });
    }
    for (const folder of moved)
      for (const [{ holder, kind, written }, target] of relocated(project, folder).targets)
        choose({ holder, kind, written, target });
    const open: OpenLink[] | null = accept === null ? null : [];
    if (accept !== null)
      for (const candidate of openLinks(project, [...chosen.values()])) {
        const { link, candidates } = candidate;
        const winner = clearWinner(candidates, accept);
        if (!winner) open?.push(candidate);
        else choose({ holder: link.holder, kind: link.kind, written: link.written, target: winner.path });
      }
    return { change: await planRepair(context, [...chosen.values()]), preview: { open } };
  },
  form: async () => (await import('./command')).REPAIR_FORM,
});

/** The broken links but for some, each with the files that may be meant, the likeliest first. */
export function openLinks(
  project: Project,
  but: readonly Pick<RepairChoice, 'holder' | 'kind' | 'written'>[],
): OpenLink[] {
  return brokenLinks(project)
    .filter(
      ({ holder, kind, written }) =>
        !but.some(
          (chosen) =>
            chosen.holder === holder && chosen.written === written && (chosen.kind ?? kind) === kind,
        ),
    )
    .map((link) => ({ link, candidates: rankCandidates(project, link) }));
}
