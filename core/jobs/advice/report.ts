import { z } from 'zod';
import { plural } from '#core/command/words';
import { measuredFiles, NOTHING_MEASURED, notMeasured } from '#core/jobs/measured-files';
import { groupBy } from '#core/multimap';
import { dismissalKey } from '#core/project/formats/dismissals';
import { bodyCount } from '#core/project/scan/content';
import { manifestOf } from '#core/project/scan/manifest-of';
import { type Project, placedBelow } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { type LookContext, report } from '#core/report';
import { FINDINGS, type Finding, kindOfFinding } from './finding';
import { findingsFromFiles } from './from-files';
import { findingsFromPlaces } from './from-places';
import { findingsFromShapes } from './from-shapes';

export const AdviceChoices = z.object({
  file: z
    .string()
    .max(4000)
    .nullable()
    .default(null)
    .describe('only what is about this file and what it places'),
  shapes: z
    .boolean()
    .default(true)
    .describe('without what only shows in the shapes, which are measured for it'),
  dismissed: z.boolean().default(false).describe('list also findings that may stay'),
});
export type AdviceChoices = z.infer<typeof AdviceChoices>;

/** A finding, and why it may stay; null where nobody has said so. */
export interface AdvisedFinding extends Finding {
  dismissed: string | null;
}

export interface Advice {
  findings: AdvisedFinding[];
  /** Findings that may stay and are not listed. */
  left: number;
  /** What was not looked at, and why, in words. */
  notes: string[];
  /** Files whose shapes are not measured yet. */
  waiting: number;
}

/** So many findings of one kind are listed in words; programs and pages get all. */
const MOST_IN_WORDS = 20;

/** What is wrong, or could be better, with how a project is put together. */
export const ADVICE = report<AdviceChoices, Advice>({
  name: 'advice',
  title: 'Advice',
  purpose: 'Say what is wrong, or could be better, with how the project is put together.',
  place: 'structure',
  page: 'advice',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly', 'part'] },
  choices: AdviceChoices,
  cost: 'slow',
  async look(context, { file, shapes, dismissed: isEverything }) {
    const project = await context.project();
    if (file !== null && !project.files.has(file)) throw new Refusal(`There is no file ${file}.`);
    const { measured, waiting } = shapes
      ? await measuredFiles(context, pathsWithBodies(project))
      : NOTHING_MEASURED;
    const places = await findingsFromPlaces(context, project, measured);
    const notes = [
      ...(waiting > 0 ? [`${notMeasured(waiting)}: look again when they are.`] : []),
      ...places.notes,
    ];
    const found = [
      ...findingsFromFiles(project),
      ...findingsFromShapes(project, measured),
      ...places.findings,
    ];
    const reasons = await dismissals(context, project);
    const wanted = file === null ? null : new Set(placedBelow(project, [file]));
    const order = Object.keys(FINDINGS);
    const all = found
      .filter(({ files }) => wanted === null || files.some((path) => wanted.has(path)))
      .map((finding) => ({ ...finding, dismissed: reasons.get(keyOf(project, finding)) ?? null }))
      .sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind) || (a.files[0]! < b.files[0]! ? -1 : 1));
    const findings = isEverything ? all : all.filter(({ dismissed }) => dismissed === null);
    return { findings, left: all.length - findings.length, notes, waiting };
  },
  json: ({ findings, notes }) => ({
    findings: findings.map(({ kind, files, words, dismissed }) => ({
      kind,
      files,
      words,
      ...(dismissed !== null && { dismissed }),
    })),
    ...(notes.length > 0 && { notes }),
  }),
  words: (advice) => [
    ...groupsInWords(advice.findings),
    ...advice.notes.map((note) => `note  ${note}`),
    inWords(advice),
  ],
  summary: inWords,
  tables: ({ findings }) => [
    {
      title: 'Findings',
      columns: [
        { title: 'Found' },
        { title: 'File', kind: 'path' },
        { title: 'What it is' },
        { title: 'What to do' },
        { title: 'May stay because' },
      ],
      rows: findings.map(({ kind, files, words, dismissed }) => [
        kindOfFinding(kind).title,
        files[0] ?? '',
        words,
        kindOfFinding(kind).remedy,
        dismissed,
      ]),
    },
  ],
  hasFindings: ({ findings }) => findings.some(({ dismissed }) => dismissed === null),
});

/** By what a finding is known, whatever its files are called by then. */
export function keyOf(project: Pick<Project, 'files'>, { kind, files, about }: Finding): string {
  return dismissalKey({ kind, digests: digestsOf(project, files), about });
}

/** Contents of files, in order; those that are not there are left out. */
export function digestsOf({ files }: Pick<Project, 'files'>, paths: readonly string[]): string[] {
  return paths.flatMap((path) => files.get(path)?.sha256 || []).sort();
}

async function dismissals({ files }: LookContext, project: Project): Promise<Map<string, string>> {
  const manifest = await manifestOf(project, ({ path }) => files.read(path));
  return new Map((manifest?.dismissed ?? []).map((one) => [dismissalKey(one), one.reason]));
}

function pathsWithBodies({ files }: Project): string[] {
  return [...files.values()].flatMap(({ path, scan }) => (bodyCount(scan) > 0 ? [path] : []));
}

function groupsInWords(findings: readonly AdvisedFinding[]): string[] {
  const byKind = groupBy(findings, ({ kind }) => kind);
  return [...byKind].flatMap(([kind, members]) => [
    `${kindOfFinding(kind).title} (${members.length})`,
    `  ${kindOfFinding(kind).why} ${kindOfFinding(kind).remedy}`,
    ...members
      .slice(0, MOST_IN_WORDS)
      .map(({ words, dismissed }) => `  - ${words}${dismissed === null ? '' : ` May stay: ${dismissed}.`}`),
    ...(members.length > MOST_IN_WORDS ? [`  - and ${members.length - MOST_IN_WORDS} more`] : []),
    '',
  ]);
}

function inWords({ findings, left }: Advice): string {
  const faults = findings.filter(
    ({ kind, dismissed }) => dismissed === null && kindOfFinding(kind).isFault,
  ).length;
  const stay = left > 0 ? ` ${plural(left, 'more may stay', 'more may stay')}.` : '';
  if (findings.length === 0) return `Nothing was found.${stay}`;
  return `${plural(findings.length, 'finding')}, ${plural(faults, 'fault')} among them.${stay}`;
}
