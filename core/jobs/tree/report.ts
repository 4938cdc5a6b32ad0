import { z } from 'zod';
import { isBroken } from '#core/files/links/resolve';
import { LINK_KINDS } from '#core/project/formats/kinds';
import { placedBelow } from '#core/project/scan/project';
import { type TreeNode, treeOf } from '#core/project/scan/tree';
import { Refusal } from '#core/refusal';
import { report } from '#core/report';

export const TreeChoices = z.object({
  file: z.string().min(1).max(4000).describe('the file whose structure it is'),
});
export type TreeChoices = z.infer<typeof TreeChoices>;

interface Tree {
  roots: TreeNode[];
  /** Whether a link is broken that the file, or what it places, holds. */
  isBroken: boolean;
}

/** The product structure below a file. */
export const TREE = report<TreeChoices, Tree>({
  name: 'tree',
  title: 'Structure',
  purpose: 'Print the product structure below a file.',
  place: 'structure',
  page: 'structure',
  accepts: { what: 'file', parameter: 'root', roles: ['assembly', 'part'] },
  choices: TreeChoices,
  cost: 'quick',
  argument: 'file',
  async look(context, { file }) {
    const project = await context.project();
    const scan = project.files.get(file)?.scan;
    if (!scan) throw new Refusal(`There is no file ${file}.`);
    if (scan.error !== null) throw new Refusal(`${file}: ${scan.error}`);
    if (scan.products.length === 0)
      throw new Refusal(`${file} is not a STEP file: it has no product structure.`);
    const below = new Set(placedBelow(project, [file]));
    return {
      roots: treeOf(project, file),
      isBroken: project.links.some(
        ({ holder, kind, state }) => below.has(holder) && LINK_KINDS[kind].places && isBroken(state),
      ),
    };
  },
  json: ({ roots }) => (roots.length === 1 ? roots[0] : roots),
  words: ({ roots }) => roots.flatMap((root) => linesOf(root, '')),
  tables: ({ roots }) => [
    {
      title: 'Structure',
      columns: [{ title: 'Level', kind: 'number' }, { title: 'Component' }, { title: 'File', kind: 'path' }],
      rows: roots.flatMap((root) => rowsOf(root, 0)),
    },
  ],
  hasFindings: (tree) => tree.isBroken,
});

function linesOf({ name, file, children }: TreeNode, indent: string): string[] {
  return [`${indent}${name}  [${file}]`, ...children.flatMap((child) => linesOf(child, `${indent}  `))];
}

function rowsOf({ name, file, children }: TreeNode, level: number): (string | number | null)[][] {
  return [[level, name, file], ...children.flatMap((child) => rowsOf(child, level + 1))];
}
