import path from 'node:path';
import type { Command } from 'commander';
import Papa from 'papaparse';
import { slashed } from '#core/command/out-file';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { type LookContext, lookAt, type Report, type ReportTable } from '#core/report';
import { BodiesOfFiles } from './bodies-of-files';
import { FINDINGS, FINE } from './exit';
import { addFlags, choicesFrom, inCommandWords } from './flags';
import { printJson, printLine, printLines } from './output';
import { openToRead, projectAround, requireFile } from './reading';

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
  command.argument(argument === undefined ? '<DIR>' : isZip ? '<ZIP>' : '<FILE>');
  const flags = addFlags(command, report.choices, argument === undefined ? [] : [argument]);
  if (argument !== undefined && !isOfOneFile)
    command.option('--root <DIR>', 'the folder that links may lead to');
  if (report.tables) command.option('--csv', 'print the main table as CSV');
  command.option('--json', 'print JSON for programs').action(async (place: string) => {
    const given: { json?: boolean; csv?: boolean; root?: string } = command.opts();
    const root = argument === undefined ? place : await rootOf(place, given.root, isOfOneFile === true);
    const files = await openToRead(root);
    const inside = isZip ? place : slashed(path.relative(files.root, path.resolve(place)));
    const asked = { ...choicesFrom(command, flags), ...(argument !== undefined && { [argument]: inside }) };
    const { data, words, tables, hasFindings } = await lookAt(report, contextIn(files), asked);
    if (given.json) printJson(report.json?.(data) ?? data);
    else if (given.csv) printLine(csvOf(tables[0]!));
    else printLines(words);
    onDone(hasFindings ? FINDINGS : FINE);
  });
}

/** The folder to look in. @throws Refusal for a file that is not there */
async function rootOf(file: string, given: string | undefined, isAlone: boolean): Promise<string> {
  if (given !== undefined) return given;
  if (!isAlone) return projectAround(file);
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

function csvOf({ columns, rows }: ReportTable): string {
  return Papa.unparse({ fields: columns.map(({ title }) => title), data: rows.map((row) => [...row]) });
}
