import { existsSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import Papa from 'papaparse';
import { slashed, writeWhole } from '#core/command/out-file';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { Refusal } from '#core/refusal';
import { type LookContext, lookAt, type Report, type ReportTable } from '#core/report';
import { BodiesOfFiles } from './bodies-of-files';
import { FINDINGS, FINE } from './exit';
import { addFlags, choicesFrom, inCommandWords } from './flags';
import { printBytes, printJson, printLine, printLines } from './output';
import { folderOfUsers, openToRead, projectAround, requireFile } from './reading';

/**
 * Adds the command of a report: its flags come from its choices, what it prints from its words.
 * @param isAsked whether it is the one that is run; of others only the name is wanted
 */
export function addReportCommand<Choices extends object, Data extends object>(
  program: Command,
  report: Report<Choices, Data>,
  isAsked: boolean,
  onDone: (code: number) => void,
): void {
  const { name, purpose, argument, isOfOneFile, accepts } = report;
  const command = program.command(name).description(inCommandWords(purpose));
  if (!isAsked) return;
  const isZip = accepts.what === 'received';
  const isOfSeveral = accepts.what === 'files';
  command.argument(argument === undefined ? '<DIR>' : isZip ? '<ZIP>' : isOfSeveral ? '<FILE...>' : '<FILE>');
  const flags = addFlags(command, report.choices, argument === undefined ? [] : [argument]);
  if (argument !== undefined && !isOfOneFile)
    command.option('--root <DIR>', 'the folder that links may lead to');
  if (report.tables) {
    command.option('--csv', 'print the main table as CSV');
    command.option('--xlsx [FILE]', 'write the tables as a workbook, to FILE or to where is printed');
  }
  command.option('--json', 'print JSON for programs').action(async (named: string | string[]) => {
    const places = typeof named === 'string' ? [named] : named;
    const [place] = places as [string];
    const given: { json?: boolean; csv?: boolean; xlsx?: true | string; root?: string } = command.opts();
    const root = argument === undefined ? place : await rootOf(place, given.root, report);
    const files = await openToRead(root);
    const inside = places.map((one) => (isZip ? one : slashed(path.relative(files.root, path.resolve(one)))));
    const subject = isOfSeveral ? inside : inside[0];
    const asked = { ...choicesFrom(command, flags), ...(argument !== undefined && { [argument]: subject }) };
    const { data, words, tables, hasFindings } = await lookAt(report, contextIn(files), asked);
    if (given.json) printJson(report.json?.(data) ?? data);
    else if (given.xlsx !== undefined) await writeWorkbook(tables, given.xlsx);
    else if (given.csv) printLine(csvOf(tables[0]!));
    else printLines(words);
    onDone(hasFindings ? FINDINGS : FINE);
  });
}

/** The folder to look in. @throws Refusal for a file that is not there */
async function rootOf(
  file: string,
  given: string | undefined,
  { isOfOneFile, isAboutUsers }: Pick<Report, 'isOfOneFile' | 'isAboutUsers'>,
): Promise<string> {
  if (given !== undefined) return given;
  if (isAboutUsers) return folderOfUsers(file);
  if (!isOfOneFile) return projectAround(file);
  await requireFile(file);
  return path.dirname(path.resolve(file));
}

function contextIn(files: FolderFileSet): LookContext {
  const bodies = new BodiesOfFiles(files);
  const scan = async (folder: FolderFileSet, searchFolders?: readonly string[]) => {
    const { scanFileSet } = await import('#core/project/scan/scan');
    return scanFileSet(folder, { searchFolders });
  };
  return {
    files,
    project: (searchFolders) => scan(files, searchFolders),
    measured: (file, product) => bodies.measured(file, product),
    meshes: (file) => bodies.meshes(file),
    unpacked: async (name) => {
      const { unpackInMemory } = await import('#core/project/change/unpack');
      return unpackInMemory(name);
    },
    history: () => files.history(),
    moment: async (name) => scan(await FolderFileSet.open(name)),
    progress: async () => {},
    signal: new AbortController().signal,
  };
}

/** @param to a file, which is written whole or not at all; else where is printed. @throws Refusal for a file that is there */
async function writeWorkbook(tables: readonly ReportTable[], to: true | string): Promise<void> {
  if (to !== true && existsSync(to))
    throw new Refusal(`${to} exists already. Choose another name, or remove it first.`);
  const { workbookOf } = await import('#core/command/workbook');
  const content = Buffer.from(await (await workbookOf(tables)).arrayBuffer());
  if (to === true) return printBytes(content);
  await writeWhole(path.resolve(to), content);
  printLine(`Wrote ${to}.`);
}

function csvOf({ columns, rows }: ReportTable): string {
  return Papa.unparse({ fields: columns.map(({ title }) => title), data: rows.map((row) => [...row]) });
}
