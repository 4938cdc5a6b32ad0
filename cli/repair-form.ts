import { type OpenLink, openLinks, type RepairChoices } from '#core/jobs/repair/operation';
import type { RepairChoice } from '#core/jobs/repair/plan';
import type { Project } from '#core/project/scan/project';
import { FINDINGS, FINE, UsageError } from './exit';
import type { CommandForm } from './operation-command';
import { plural, printJson, printLine } from './output';

/** `repair DIR`: links by hand or by their score, and what stays open with its candidates. */
export const REPAIR_FORM: CommandForm<RepairChoices, { open: OpenLink[] | null }> = {
  ownFlags: ['set'],
  options: (command) => command.option('--set <HOLDER::WRITTEN=TARGET...>', 'point one link at one file'),
  choices: ({ set = [] }, { project }) => ({
    set: (set as string[]).map((text) => parseChoice(text, project)),
  }),
  tell({ change, preview, context, dryRun, applied, json }) {
    const { rewires, warnings } = change;
    const chosen = rewires.map(({ holder, written }) => ({ holder, written }));
    const open = preview.open ?? openLinks(context.project, chosen);
    if (json) {
      printJson({
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
      });
      return open.length > 0 ? FINDINGS : FINE;
    }
    for (const { holder, written, rewritten } of rewires)
      printLine(`${dryRun ? 'would write' : 'wrote'}  ${holder}: ${written} -> ${rewritten}`);
    for (const { link, candidates } of open) {
      printLine(`open   ${link.holder}: ${link.written} is ${link.state}. ${link.reason}`);
      for (const { path, score, evidence, unusable } of candidates.slice(0, 4))
        printLine(
          `       ${score.toFixed(2)}  ${path}: ${unusable ?? evidence.map(({ words }) => words).join('; ')}`,
        );
    }
    for (const warning of warnings) printLine(`note   ${warning}`);
    if (rewires.length === 0 && open.length === 0) printLine('Every link is sound.');
    else
      printLine(
        `${plural(rewires.length, 'link')} ${dryRun ? 'would be ' : ''}repaired, ${open.length} left open.`,
      );
    return open.length > 0 ? FINDINGS : FINE;
  },
};

/** `HOLDER::WRITTEN=TARGET`. Each may hold a `=` of its own: what the project knows tells where the target begins. */
function parseChoice(text: string, project: Project): RepairChoice {
  const at = text.indexOf('::');
  const [holder, rest] = [text.slice(0, at), text.slice(at + 2)];
  const readings = [...rest.matchAll(/=/g)].flatMap(({ index }): RepairChoice[] =>
    index === 0 || index === rest.length - 1
      ? []
      : [{ holder, written: rest.slice(0, index), target: rest.slice(index + 1) }],
  );
  if (at < 1 || readings.length === 0)
    throw new UsageError(`--set takes HOLDER::WRITTEN=TARGET, not ${text}.`);
  const isLink = ({ written }: RepairChoice) =>
    project.uses.get(holder)?.some((link) => link.written === written) ?? false;
  return (
    readings.find((choice) => isLink(choice) && project.files.has(choice.target)) ??
    readings.find(isLink) ??
    readings.at(-1)!
  );
}
