import { z } from 'zod';

/** A finding that somebody has looked at and lets be. */
export const Dismissal = z
  .object({
    kind: z.string().min(1).max(60).describe('What was found.'),
    digests: z
      .array(z.string().regex(/^[0-9a-f]{64}$/))
      .min(1)
      .max(5000)
      .describe(
        'SHA-256 of the files that it was about, in order: when one of them changes it is found again.',
      ),
    about: z.string().max(300).optional().describe('What of them it was about.'),
    reason: z.string().trim().min(1, 'Say why it may stay.').max(300).describe('Why it may stay.'),
  })
  .describe('A finding that may stay.');
export type Dismissal = z.infer<typeof Dismissal>;

/** By what a finding is known: kind, contents and what of them; not by paths, which may change. */
export function dismissalKey({
  kind,
  digests,
  about = '',
}: Pick<Dismissal, 'kind' | 'digests' | 'about'>): string {
  return JSON.stringify([kind, [...digests].sort(), about]);
}
