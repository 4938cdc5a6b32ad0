import { z } from 'zod';
import { plural } from '#core/command/words';
import { baseName, folderOf, joinPath, pathProblem, typedFolder } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import { type Planning, timeStampOf } from '#core/planning';
import { Anchors } from '#core/product/restructure/belonging';
import { putOut } from '#core/product/restructure/put-out';
import { readStructure } from '#core/product/structure';
import { newFileName } from '#core/project/formats/endings';
import { fittingStem } from '#core/project/formats/file-stem';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { type InFileComponent, inFileComponents } from './components';

export const PutOutChoices = z.object({
  file: z.string().min(1).max(4000).describe('the assembly file that holds the components'),
  components: z
    .array(z.string().min(1).max(1000))
    .max(MOST_CHOSEN)
    .default([])
    .describe('the components, each by its name, its id, or the number of its PRODUCT_DEFINITION'),
  all: z.boolean().default(false).describe('all components that lie in the file'),
  to: z
    .string()
    .max(2000)
    .nullable()
    .default(null)
    .describe('the folder of the new files; that of the assembly unless it is said'),
  names: z
    .record(z.string(), z.string().max(200))
    .default({})
    .describe('other names for the files, without their ending, by the number of the PRODUCT_DEFINITION'),
});
export type PutOutChoices = z.infer<typeof PutOutChoices>;

/** A component that becomes a file. */
export interface PutOutFile extends Pick<InFileComponent, 'definition' | 'name' | 'placings'> {
  file: string;
}

/** Components that lie in the file of their assembly become files of their own; nothing moves. */
export const PUT_OUT = operation<PutOutChoices, { components: PutOutFile[] }, unknown, Planning>({
  name: 'put-out',
  command: 'putout',
  title: 'Put components out',
  purpose:
    'Make components that lie in the file of their assembly files of their own, with all that belongs to them.',
  place: 'structure',
  page: 'put-out',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: PutOutChoices,
  cost: 'slow',
  async plan({ project, draft, now, progress }, choices) {
    const { file, to, names } = choices;
    const wanted = wantedComponents(project, choices);
    const folder = to === null ? folderOf(file) : typedFolder(to);
    const problem = folder === '' ? null : pathProblem(folder);
    if (problem) throw new Refusal(`The folder cannot be used: ${problem}.`);
    const components: PutOutFile[] = [];
    const lost = new Map<string, number>();
    const copied = new Set<string>();
    // Those are files of their own: a reference to them is no copy.
    const files = new Set(project.files.get(file)!.scan.placeholders);
    // What is placed goes before what places it: both are links then.
    for (const [n, { definition, name, placings }] of wanted.entries()) {
      await progress(`Putting out ${name}`, n, wanted.length);
      const stem = fittingStem(names[String(definition)]?.trim() || name) || `component-${definition}`;
      const path = draft.free(joinPath(folder, newFileName(stem)));
      // It lies beside the assembly first: what it leads to is written as seen from there, and follows when it moves.
      const beside = draft.free(joinPath(folderOf(file), baseName(path)));
      let content: Uint8Array | undefined;
      await draft.edit(file, (bytes) => {
        const before = Part21File.read(bytes);
        const { products } = readStructure(before);
        if (before.header.writtenSchemas.some((schema) => /^CONFIG_CONTROL_DESIGN/i.test(schema)))
          draft.warn(
            `${baseName(file)} is written by the first edition of AP203, which knows no references to files: most systems follow them all the same, a strict reader may not.`,
          );
        const put = putOut(new Anchors(before, products), {
          definition,
          fileName: baseName(path),
          timeStamp: timeStampOf(now),
          written: baseName(beside),
        });
        for (const [type, count] of put.lost) lost.set(type, (lost.get(type) ?? 0) + count);
        for (const one of put.copied) {
          const product = products.find((other) => other.definition === one);
          if (product && !files.has(one)) copied.add(product.name);
        }
        content = put.component;
        return put.assembly;
      });
      draft.write(beside, content!);
      draft.linked({ holder: file, kind: 'component', written: baseName(beside) }, beside);
      await draft.move(beside, path);
      files.add(definition);
      components.push({ definition, name, placings, file: path });
    }
    for (const [type, count] of lost)
      draft.warn(
        `${plural(count, `${type} ties`, `${type} tie`)} a component to something else in ${file} and can be in neither file: left out.`,
      );
    if (copied.size > 0)
      draft.warn(
        `Something else in ${baseName(file)} places ${[...copied].join(', ')}, too: it is in both files now. Put it out as well, to have it once.`,
      );
    const what = components.length === 1 ? components[0]!.name : `${components.length} components`;
    return { change: await draft.finish(`Put ${what} out of ${baseName(file)}`), preview: { components } };
  },
  form: async () => (await import('./command')).PUT_OUT_FORM,
});

/** @throws Refusal where there is no such file or component, or it is a file already */
function wantedComponents(project: Project, { file, components, all }: PutOutChoices): InFileComponent[] {
  const scan = project.files.get(file)?.scan;
  if (!scan) throw new Refusal(`There is no file ${file}.`);
  if (scan.error !== null) throw new Refusal(`${file}: ${scan.error}`);
  if (scan.damage !== null)
    throw new Refusal(`${file}: ${scan.damage} Repair it in the system that wrote it first.`);
  const there = inFileComponents(scan);
  if (all) {
    if (there.length === 0) throw new Refusal(`${file} holds no components: all of them are files already.`);
    return there;
  }
  if (components.length === 0) throw new Refusal('Choose the components that become files.');
  const found = components.map((wanted) => {
    const fitting = there.filter(
      ({ definition, id, name }) => String(definition) === wanted || id === wanted || name === wanted,
    );
    const [one, ...more] = fitting;
    if (one && more.length > 0)
      throw new Refusal(
        `${fitting.length} components of ${file} are called ${wanted}: name them by their numbers, ${fitting.map(({ definition }) => definition).join(', ')}.`,
      );
    if (one) return one;
    const other = scan.products.find(({ id, name }) => id === wanted || name === wanted);
    if (!other) throw new Refusal(`${file} has no component ${wanted}.`);
    throw new Refusal(
      scan.placeholders.includes(other.definition)
        ? `${wanted} is a file of its own already.`
        : `${wanted} is what ${file} is about: nothing in it places it.`,
    );
  });
  return there.filter((one) => found.includes(one));
}
