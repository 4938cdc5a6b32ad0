import { z } from 'zod';
import { LINK_KIND_NAMES } from '#core/project/formats/kinds';

/** `stonetray-package.json` of a package: its files and links, for programs. Schema: docs/package-list.schema.json. */
export const PackageList = z.strictObject({
  format: z.literal('stonetray-package'),
  version: z.literal(1),
  title: z.string(),
  /** ISO 8601, UTC. */
  created: z.string(),
  /** Path of the assembly to open first, relative to `data/`. */
  root: z.string(),
  files: z.array(
    z.strictObject({
      /** Relative to `data/`. */
      path: z.string(),
      /** Its path in the project that it comes from. */
      original: z.string(),
      why: z.string(),
      bytes: z.int().nonnegative(),
      sha256: z.string().regex(/^[0-9a-f]{64}$/),
    }),
  ),
  links: z.array(
    z.strictObject({
      from: z.string(),
      kind: z.enum(LINK_KIND_NAMES),
      written: z.string(),
      to: z.string().nullable(),
      state: z.enum(['sound', 'behind', 'missing', 'ambiguous', 'loop']),
    }),
  ),
});
export type PackageList = z.infer<typeof PackageList>;

export const PACKAGE_LIST_NAME = 'stonetray-package.json';

/** The list's JSON Schema (2020-12), as published in docs/. */
export function packageListSchema(): object {
  return z.toJSONSchema(PackageList);
}
