import path from 'node:path';
import { isBroken } from '#core/files/links/resolve';
import { findProjectRoot } from '#core/jobs/handoff/project-root';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { placedBelow } from '#core/project/scan/project';
import { reportOf } from '#core/project/scan/report';
import { scanFileSet } from '#core/project/scan/scan';
import { type TreeNode, treeOf } from '#core/project/scan/tree';
import { FINDINGS, FINE, UsageError } from './exit';
import { plural, printJson, printLine, printTable } from './output';
import { openToRead } from './reading';

export async function scanCommand(
  folder: string,
  options: { json?: boolean; search?: string[] },
): Promise<number> {
  const project = await scanFileSet(await openToRead(folder), { searchFolders: options.search });
  const report = reportOf(project);
  const { totals } = report;
  const broken = report.links.filter(({ state }) => isBroken(state));
  const unreadable = report.files.filter(({ error }) => error !== null);
  if (options.json) printJson(report);
  else {
    printTable(
      report.files.map((file) => [
        file.path,
        file.role,
        file.format,
        file.unit ?? '',
        file.bodies ? plural(file.bodies, 'body', 'bodies') : '',
        `${file.bytes.toLocaleString('en')} B`,
      ]),
      [5],
    );
    printLine();
    printLine(
      `${plural(totals.files, 'file')}, ${plural(totals.links, 'link')}: ${totals.sound} sound, ${totals.behind} behind, ${totals.missing} missing, ${totals.ambiguous} ambiguous, ${totals.loop} in loops.`,
    );
    printLine(
      `${plural(totals.occurrences, 'occurrence')} of ${plural(totals.distinctParts, 'distinct part')} below ${report.roots.join(', ') || 'no root assembly'}.`,
    );
    for (const { from, written, state, reason } of broken)
      printLine(`  ${state.padEnd(9)} ${from} -> ${written}: ${reason}`);
    for (const { from, written, state, reason } of report.links)
      if (state === 'behind') printLine(`  ${state.padEnd(9)} ${from} -> ${written}: ${reason}`);
    for (const { path: file, error } of unreadable)
      printLine(
        `  ${project.files.get(file)!.scan.error === null ? 'damaged ' : 'unread  '}  ${file}: ${error}`,
      );
    if (report.unused.length > 0) printLine(`Not used by any root: ${report.unused.join(', ')}`);
  }
  return broken.length > 0 || unreadable.length > 0 ? FINDINGS : FINE;
}

/** Opens the folder that a file belongs to. @returns the project, its files, and the file's path in it */
export async function openAround(file: string, root: string | undefined) {
  const files = await openToRead(root ?? (await findProjectRoot(file)));
  const inside = path.relative(files.root, path.resolve(file)).split(path.sep).join('/');
  const project = await scanFileSet(files);
  const scanned = project.files.get(inside);
  if (!scanned) throw new UsageError(`${file} is not a file in ${files.root}.`);
  return { files, project, path: inside, scanned };
}

export async function treeCommand(file: string, options: { json?: boolean; root?: string }): Promise<number> {
  const { project, path: inside, scanned } = await openAround(file, options.root);
  if (scanned.scan.error) throw new UsageError(`${file}: ${scanned.scan.error}`);
  if (scanned.scan.format !== 'step')
    throw new UsageError(`${file} is not a STEP file: it has no product structure.`);
  const roots = treeOf(project, inside);
  const below = new Set(placedBelow(project, [inside]));
  const broken = project.links.some(
    ({ holder, kind, state }) => below.has(holder) && LINK_KINDS[kind].places && isBroken(state),
  );
  if (options.json) printJson(roots.length === 1 ? roots[0] : roots);
  else for (const root of roots) printNode(root, '');
  return broken ? FINDINGS : FINE;
}

function printNode(node: TreeNode, indent: string): void {
  printLine(`${indent}${node.name}  [${node.file}]`);
  for (const child of node.children) printNode(child, `${indent}  `);
}
