import { z } from 'zod';
import { plural } from '#core/command/words';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { dismissalKey } from '#core/project/formats/dismissals';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { type Project, placedBelow } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { type LookContext, report } from '#core/report';
import { FINDINGS, type Finding, type FindingKind, kindOfFinding } from './finding';
import { findingsFromFiles } from './from-files';
import { findingsFromShapes, type MeasuredFiles } from './from-shapes';

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
    const notes: string[] = [];
    const found = findingsFromFiles(project);
    const { measured, waiting } = shapes
      ? await measuredFiles(context, project, notes)
      : { measured: new Map<string, ReadonlyMap<number, MeasuredBody>>(), waiting: 0 };
    found.push(...findingsFromShapes(project, measured));
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
  const manifest = project.files.get(MANIFEST_NAME);
  if (!manifest || manifest.scan.error !== null) return new Map();
  const { dismissed = [] } = readManifest(await files.read(MANIFEST_NAME));
  return new Map(dismissed.map((one) => [dismissalKey(one), one.reason]));
}

/** What was measured of files with bodies; what cannot be had is noted, and the rest goes on. */
async function measuredFiles(
  context: LookContext,
  project: Project,
  notes: string[],
): Promise<{ measured: MeasuredFiles; waiting: number }> {
  const holders = [...project.files.values()].filter(({ scan }) =>
    scan.products.some(({ bodies }) => bodies.length > 0),
  );
  const measured = new Map<string, ReadonlyMap<number, MeasuredBody>>();
  let waiting = 0;
  for (const [n, { path }] of holders.entries()) {
    await context.progress(`Looking at ${path}`, n, holders.length);
    context.signal.throwIfAborted();
    try {
      measured.set(path, await context.measured(path));
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      waiting++;
    }
  }
  if (waiting > 0)
    notes.push(`The shapes of ${plural(waiting, 'file')} are not measured yet: look again when they are.`);
  return { measured, waiting };
}

function groupsInWords(findings: readonly AdvisedFinding[]): string[] {
  const byKind = new Map<FindingKind, AdvisedFinding[]>();
  for (const finding of findings) byKind.set(finding.kind, [...(byKind.get(finding.kind) ?? []), finding]);
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
