import { FolderFileSet } from '#core/change/folder';
import { planningOn } from '#core/operation';
import { brokenLinks, planRepair, type RepairChoice } from '#core/repair/plan';
import { clearWinner, rankCandidates } from '#core/repair/rank';
import type { Project, ProjectLink } from '#core/scan/project';
import { scanFileSet } from '#core/scan/scan';
import { FINDINGS, FINE, UsageError } from './exit';
import { plural, printJson, printLine } from './output';

interface RepairOptions {
  accept?: number;
  set?: string[];
  dryRun?: boolean;
  json?: boolean;
}

export async function repairCommand(folder: string, options: RepairOptions): Promise<number> {
  const files = await FolderFileSet.open(folder);
  const project = await scanFileSet(files);
  const choices = (options.set ?? []).map((text) => parseChoice(text, project));
  const isSet = ({ from, written, kind }: ProjectLink) =>
    choices.some(
      (choice) => choice.holder === from && choice.written === written && (choice.kind ?? kind) === kind,
    );

  const findings = brokenLinks(project)
    .filter((link) => !isSet(link))
    .map((link) => {
      const candidates = link.state === 'loop' ? [] : rankCandidates(project, link);
      const winner = options.accept === undefined ? undefined : clearWinner(candidates, options.accept);
      if (winner)
        choices.push({ holder: link.from, kind: link.kind, written: link.written, target: winner.path });
      return { link, candidates, taken: winner?.path ?? null };
    });
  const plan = await planRepair(planningOn(project, files), choices);
  if (!options.dryRun && plan.changes.length > 0) await files.apply(plan);
  const left = findings.filter(({ taken }) => taken === null);

  if (options.json) {
    printJson({
      dryRun: options.dryRun ?? false,
      applied: !options.dryRun && plan.changes.length > 0,
      rewires: plan.rewires,
      warnings: plan.warnings,
      open: left.map(({ link, candidates }) => ({
        from: link.from,
        written: link.written,
        state: link.state,
        reason: link.reason,
        candidates,
      })),
    });
  } else {
    for (const { holder, written, rewritten } of plan.rewires)
      printLine(`${options.dryRun ? 'would write' : 'wrote'}  ${holder}: ${written} -> ${rewritten}`);
    for (const { link, candidates } of left) {
      printLine(`open   ${link.from}: ${link.written} is ${link.state}. ${link.reason}`);
      for (const { path, score, evidence, unusable } of candidates.slice(0, 4)) {
        printLine(
          `       ${score.toFixed(2)}  ${path}: ${unusable ?? evidence.map(({ words }) => words).join('; ')}`,
        );
      }
    }
    for (const warning of plan.warnings) printLine(`note   ${warning}`);
    if (plan.rewires.length === 0 && left.length === 0) printLine('Every link is sound.');
    else
      printLine(
        `${plural(plan.rewires.length, 'link')} ${options.dryRun ? 'would be ' : ''}repaired, ${left.length} left open.`,
      );
  }
  return left.length > 0 ? FINDINGS : FINE;
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

export async function undoCommand(folder: string, options: { json?: boolean }): Promise<number> {
  const files = await FolderFileSet.open(folder);
  const plan = await files.planUndo();
  if (!plan) throw new UsageError('Nothing has been changed in this folder.');
  await files.apply(plan);
  if (options.json) printJson({ summary: plan.summary, files: plan.changes.map(({ path }) => path) });
  else printLine(`${plan.summary}.`);
  return FINE;
}
