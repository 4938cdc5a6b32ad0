import { z } from 'zod';
import { columns, plural } from '#core/command/words';
import { bodyCount } from '#core/project/scan/content';
import type { ScannedFile } from '#core/project/scan/project';
import { report } from '#core/report';

export const CompareChoices = z.object({
  with: z
    .string()
    .min(1)
    .max(4000)
    .describe('the older state: a change by its id, for what was before it, or another folder'),
});
export type CompareChoices = z.infer<typeof CompareChoices>;

/** A file that is not the same in both states. */
interface DifferingFile {
  path: string;
  difference: 'new' | 'gone' | 'changed';
  /** What of its facts is another, in words: "bodies 3 → 4". Empty where only its bytes are. */
  facts: string[];
}

interface Compared {
  same: number;
  files: DifferingFile[];
}

/** Which files differ between now and an older state, by digest and facts. */
export const COMPARE = report<CompareChoices, Compared>({
  name: 'compare',
  title: 'Compare with an older state',
  purpose: 'Say which files differ between now and an older state.',
  place: 'files',
  page: 'compare',
  accepts: { what: 'project', isUnlisted: true },
  choices: CompareChoices,
  cost: 'slow',
  async look(context, { with: name }) {
    const older = (await context.moment(name)).files;
    const newer = (await context.project()).files;
    const files = [...new Set([...older.keys(), ...newer.keys()])].sort().flatMap((path) => {
      const [before, after] = [older.get(path), newer.get(path)];
      if (before?.sha256 === after?.sha256) return [];
      const difference = !before ? 'new' : !after ? 'gone' : 'changed';
      return [{ path, difference, facts: before && after ? differingFacts(before, after) : [] } as const];
    });
    return { files, same: newer.size - files.filter(({ difference }) => difference !== 'gone').length };
  },
  words: ({ files, same }) => [
    ...columns(files.map(({ path, difference, facts }) => [difference, path, facts.join(', ')])),
    ...(files.length > 0 ? [''] : []),
    files.length === 0
      ? `Nothing differs: ${plural(same, 'file')} the same.`
      : `${plural(files.length, 'file differs', 'files differ')}, ${same.toLocaleString('en')} the same.`,
  ],
  tables: ({ files }) => [
    {
      title: 'Files that differ',
      columns: [
        { title: 'File', kind: 'path' },
        { title: 'Difference', kind: 'short' },
        { title: 'What is another' },
      ],
      rows: files.map(({ path, difference, facts }) => [path, difference, facts.join(', ')]),
    },
  ],
  hasFindings: ({ files }) => files.length > 0,
});

/** Facts that a scan knows of a file. */
const FACTS: { readonly [name: string]: (file: ScannedFile) => string | number } = {
  bytes: ({ bytes }) => bytes,
  bodies: ({ scan }) => bodyCount(scan),
  products: ({ scan }) => scan.products.length,
  occurrences: ({ scan }) => scan.products.reduce((sum, { occurrences }) => sum + occurrences.length, 0),
  links: ({ scan }) => scan.links.length,
  unit: ({ scan }) => scan.unit ?? 'none',
  schema: ({ scan }) => scan.schema ?? 'none',
  trouble: ({ scan }) => scan.error ?? scan.damage ?? 'none',
};

function differingFacts(before: ScannedFile, after: ScannedFile): string[] {
  return Object.entries(FACTS).flatMap(([name, of]) => {
    const [was, is] = [of(before), of(after)];
    return was === is ? [] : [`${name} ${was} → ${is}`];
  });
}
