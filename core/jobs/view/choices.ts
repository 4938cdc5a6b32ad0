import { z } from 'zod';
import { KeptView } from '#core/project/formats/kept-views';

export const ViewChoices = z.object({
  name: KeptView.shape.name,
  /** Null takes the view of that name out. */
  view: KeptView.omit({ name: true })
    .nullable()
    .default(null)
    .describe('what the view shows; left out, the view goes'),
});
export type ViewChoices = z.infer<typeof ViewChoices>;
