import type { CommandForm } from '#core/command/form';
import { plural } from '#core/command/words';
import type { MovedFolder } from '#core/jobs/repair/moved-folder';
import { type OpenLink, openLinks, type RepairChoices } from '#core/jobs/repair/operation';
import type { RepairChoice } from '#core/jobs/repair/plan';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';

/** `repair DIR`: links by hand or by their score, and what stays open with its candidates. */
export const REPAIR_FORM: CommandForm<RepairChoices, { open: OpenLink[] | null }> = {
  ownFlags: ['set', 'moved'],
  flags: [
    { flag: '--set <HOLDER::WRITTEN=TARGET...>', words: 'point one link at one file' },
    {
      flag: '--moved <FROM=TO...>',
      words: 'what lay in one folder lies in another now: broken links into it follow',
    },
  ],
  choices: ({ set = [], moved = [] }, { project }) => ({
    set: (set as string[]).map((text) => parseChoice(text, project)),
    moved: (moved as string[]).map(parseMoved),
  }),
  tell({ change, preview, context, dryRun, applied }) {
    const { rewires, warnings } = change;
    const chosen = rewires.map(({ holder, written }) => ({ holder, written }));
    const open = preview.open ?? openLinks(context.project, chosen);
    const json = {
      dryRun,
      applied,
      rewires,
      warnings,
      open: open.map(({ link, candidates }) => ({
        from: link.holder,
        written: link.written,
        state: link.state,
        reason: link.reason,
        candidates,
      })),
    };
    const lines: string[] = [];
    for (const { holder, written, rewritten } of rewires)
      lines.push(`${dryRun ? 'would write' : 'wrote'}  ${holder}: ${written} -> ${rewritten}`);
    for (const { link, candidates } of open) {
      lines.push(`open   ${link.holder}: ${link.written} is ${link.state}. ${link.reason}`);
      for (const { path, score, evidence, unusable } of candidates.slice(0, 4))
        lines.push(
          `       ${score.toFixed(2)}  ${path}: ${unusable ?? evidence.map(({ words }) => words).join('; ')}`,
        );
    }
    for (const warning of warnings) lines.push(`note   ${warning}`);
    if (rewires.length === 0 && open.length === 0) lines.push('Every link is sound.');
    else
      lines.push(
        `${plural(rewires.length, 'link')} ${dryRun ? 'would be ' : ''}repaired, ${open.length} left open.`,
      );
    return { json, lines, hasFindings: open.length > 0 };
  },
};

/** `FROM=TO`; an empty one is the top folder. */
function parseMoved(text: string): MovedFolder {
  const [from, to, more] = text.split('=');
  if (from === undefined || to === undefined || more !== undefined)
    throw new Refusal(`--moved takes FROM=TO, such as old/parts=parts, not ${text}.`);
  return { from, to };
}

/** `HOLDER::WRITTEN=TARGET`. Each may hold a `=` of its own: what the project knows tells where the target begins. */
function parseChoice(text: string, project: Project): RepairChoice {
  const at = text.indexOf('::');
  const [holder, rest] = [text.slice(0, at), text.slice(at + 2)];
  const readings = [...rest.matchAll(/=/g)].flatMap(({ index }): RepairChoice[] =>
    index === 0 || index === rest.length - 1
      ? []
      : [{ holder, written: rest.slice(0, index), target: rest.slice(index + 1) }],
  );
  if (at < 1 || readings.length === 0) throw new Refusal(`--set takes HOLDER::WRITTEN=TARGET, not ${text}.`);
  const isLink = ({ written }: RepairChoice) =>
    project.uses.get(holder)?.some((link) => link.written === written) ?? false;
  return (
    readings.find((choice) => isLink(choice) && project.files.has(choice.target)) ??
    readings.find(isLink) ??
    readings.at(-1)!
  );
}
