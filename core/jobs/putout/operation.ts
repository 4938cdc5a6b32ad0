import { z } from 'zod';
import { plural } from '#core/command/words';
import { baseName, folderOf, joinPath, pathProblem, typedFolder } from '#core/files/links/paths';
import { putOutOntoDraft } from '#core/jobs/arrange/out-onto-draft';
import { MOST_CHOSEN } from '#core/misfit';
import { addCounts, groupBy } from '#core/multimap';
import { operation } from '#core/operation';
import { isCalled } from '#core/product/called';
import { newFileName } from '#core/project/formats/endings';
import { fittingStem } from '#core/project/formats/file-stem';
import { changeableScan } from '#core/project/scan/changeable';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { Carriers, leadCarrier } from './carriers';
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
  others: z
    .boolean()
    .default(false)
    .describe('other files that carry a part of the same number and shape place the new file, too'),
});
export type PutOutChoices = z.infer<typeof PutOutChoices>;

/** A component that becomes a file. */
export interface PutOutFile extends Pick<InFileComponent, 'definition' | 'name' | 'placings'> {
  file: string;
  /** Other files that carry a part of the same number. */
  carriers: string[];
}

/** Components that lie in the file of their assembly become files of their own; nothing moves. */
export const PUT_OUT = operation<PutOutChoices, { components: PutOutFile[] }>({
  name: 'put-out',
  command: 'putout',
  title: 'Put components out',
  purpose:
    'Make components that lie in the file of their assembly files of their own, with all that belongs to them.',
  place: 'structure',
  page: 'put-out',
  pageTitle: 'Put out',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: PutOutChoices,
  cost: 'slow',
  async plan(context, choices) {
    const { project, draft, progress } = context;
    const { file, to, names, others } = choices;
    const wanted = wantedComponents(project, choices);
    const folder = to === null ? folderOf(file) : typedFolder(to);
    const problem = folder === '' ? null : pathProblem(folder);
    if (problem) throw new Refusal(`The folder cannot be used: ${problem}.`);
    const components: PutOutFile[] = [];
    const lost = new Map<string, number>();
    const copied = new Set<string>();
    const carriers = new Carriers(project);
    const { products } = project.files.get(file)!.scan;
    // Those are files of their own: a reference to them is no copy.
    const files = new Set(project.files.get(file)!.scan.placeholders);
    // What is placed goes before what places it: both are links then.
    const levels = groupBy(wanted, ({ level }) => level);
    for (const some of levels.values()) {
      await progress(`Putting out ${plural(some.length, 'component')}`, components.length, wanted.length);
      const put = await putOutOntoDraft(
        context,
        file,
        some.map(({ definition, name }) => {
          const stem = fittingStem(names[String(definition)]?.trim() || name) || `component-${definition}`;
          return { definition, path: joinPath(folder, newFileName(stem)) };
        }),
      );
      addCounts(lost, put.lost);
      for (const one of put.copied) {
        const product = put.products.find((other) => other.definition === one);
        if (product && !files.has(one)) copied.add(product.name);
      }
      for (const { definition, id, name, placings } of some) {
        files.add(definition);
        const path = put.paths.get(definition)!;
        const alike = carriers.of(file, id);
        const paths = [...new Set(alike.map((carrier) => carrier.file))];
        components.push({ definition, name, placings, file: path, carriers: paths });
        if (!others) continue;
        const product = products.find((one) => one.definition === definition)!;
        for (const carrier of alike) {
          const why = await leadCarrier(context, { file, product, path }, carrier);
          if (why) draft.warn(`${baseName(carrier.file)} carries ${name}, too: left as it is, since ${why}.`);
        }
      }
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
  const scan = changeableScan(project, file);
  const there = inFileComponents(scan);
  if (all) {
    if (there.length === 0) throw new Refusal(`${file} holds no components: all of them are files already.`);
    return there;
  }
  if (components.length === 0) throw new Refusal('Choose the components that become files.');
  const found = components.map((wanted) => {
    const fitting = there.filter((component) => isCalled(component, wanted));
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
