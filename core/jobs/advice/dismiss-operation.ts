import { z } from 'zod';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { manifestOn } from '#core/project/change/project-manifest';
import { type Dismissal, dismissalKey } from '#core/project/formats/dismissals';
import { MANIFEST_NAME, withEntries } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import { FINDINGS, type FindingKind } from './finding';
import { digestsOf } from './report';

const KINDS = Object.keys(FINDINGS) as [FindingKind, ...FindingKind[]];

export const DismissChoices = z.object({
  findings: z
    .array(
      z.object({
        kind: z.enum(KINDS).describe('what was found'),
        files: z.array(z.string().min(1).max(4000)).min(1).max(5000).describe('the files that it is about'),
        about: z.string().max(300).default('').describe('what of them'),
      }),
    )
    .min(1)
    .max(5000)
    .describe('the findings that may stay'),
  reason: z
    .string()
    .trim()
    .max(300)
    .nullable()
    .describe('why they may stay; without a reason they are found again'),
});
export type DismissChoices = z.infer<typeof DismissChoices>;

/** Lets findings be, with a reason, until their files change; or has them found again. */
export const DISMISS = operation<DismissChoices, null, unknown, Planning>({
  name: 'dismiss',
  title: 'Let a finding stay',
  purpose: 'Say that findings may stay and why; they come back when their files change.',
  place: 'structure',
  page: 'advice',
  role: 'editor',
  accepts: { what: 'project', isUnlisted: true },
  choices: DismissChoices,
  cost: 'quick',
  async plan({ project, draft }, { findings, reason }) {
    for (const path of findings.flatMap(({ files }) => files))
      if (!project.files.has(path)) throw new Refusal(`There is no file ${path}.`);
    if (reason === '') throw new Refusal('Say why it may stay, for whoever looks at it next.');
    const wanted = findings.map(
      ({ kind, files, about }): Dismissal => ({
        kind,
        digests: digestsOf(project, files),
        ...(about !== '' && { about }),
        reason: reason ?? '',
      }),
    );
    const keys = new Set(wanted.map(dismissalKey));
    const before = await manifestOn(draft);
    await draft.write(
      MANIFEST_NAME,
      withEntries(before, ({ dismissed = [] }) => ({
        dismissed: [
          ...dismissed.filter((one) => !keys.has(dismissalKey(one))),
          ...(reason === null ? [] : wanted),
        ],
      })),
    );
    const what = findings.length === 1 ? 'a finding' : `${findings.length} findings`;
    return {
      change: await draft.finish(reason === null ? `Had ${what} found again` : `Let ${what} stay: ${reason}`),
      preview: null,
    };
  },
});
