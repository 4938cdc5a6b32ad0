import { Levels } from '#core/jobs/arrange/levels';
import type { Project } from '#core/project/scan/project';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { type AssemblyView, assemblyViewSteps, type ShownElsewhere } from './assembly-view';

/** An occurrence in an assembly file. Those of an assembly that is placed several times stand there once. */
export interface ArrangedOccurrence {
  /** Its number in the file, as text. */
  key: string;
  name: string;
  depth: number;
  /** What it places, and what holds it: PRODUCT_DEFINITIONs. */
  component: number;
  componentName: string;
  parent: number;
  /** The file of the component where it is another one. */
  file: string | null;
  /** What it places itself, in this file. */
  holds: number;
}

/** What can be arranged in an assembly file, before anything is planned. */
export interface ArrangeView extends AssemblyView {
  occurrences: ArrangedOccurrence[];
  /** The assemblies of the file, with how often each is placed; 1 for the top. */
  assemblies: { definition: number; name: string; placed: number }[];
}

const RESTS = 512;

/** @param wanted the file that is asked for */
export function* arrangeViewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
): Steps<ArrangeView> {
  const view = yield* assemblyViewSteps(project, shapes, projectId, {
    wanted,
    hasComponents: () => true,
    oneByOne: true,
    keyOf: (row, file, [placing]) =>
      placing && (row.link ? row.link.holder === file : row.file === file) ? String(placing.occurrence) : '',
  });
  const scan = view.file === null ? undefined : project.files.get(view.file)!.scan;
  if (!scan) return { ...view, occurrences: [], assemblies: [] };
  const levels = new Levels(scan.products);
  const links = new Map(
    (project.uses.get(view.file!) ?? []).flatMap(({ kind, definitions, to, written }) =>
      kind === 'component' ? definitions.map((definition) => [definition, to ?? written] as const) : [],
    ),
  );
  const occurrences: ArrangedOccurrence[] = [];
  const known = new Set<number>();
  const standIns = new Set(scan.placeholders);
  const tops = scan.products.filter(({ definition }) => !levels.of.has(definition));
  // Depth first: what a component holds stands below it.
  const list = function* (definition: number, depth: number): Steps<void> {
    const product = levels.byDefinition.get(definition);
    if (!product || known.has(definition)) return;
    known.add(definition);
    for (const { id, name, child } of product.occurrences) {
      if (occurrences.length % RESTS === 0) yield;
      const placed = levels.byDefinition.get(child);
      occurrences.push({
        key: String(id),
        name,
        depth,
        component: child,
        componentName: placed?.name ?? '',
        parent: definition,
        file: standIns.has(child) ? (links.get(child) ?? null) : null,
        holds: placed?.occurrences.length ?? 0,
      });
      yield* list(child, depth + 1);
    }
  };
  for (const { definition } of tops) yield* list(definition, 0);
  const shows = placesElsewhere(project, view.file!);
  return {
    ...view,
    ...(shows && { shows }),
    occurrences,
    assemblies: scan.products.flatMap(({ definition, name, occurrences: own }) =>
      own.length > 0 ? [{ definition, name, placed: levels.of.get(definition)?.length ?? 1 }] : [],
    ),
  };
}

/** Where else the file is placed; undefined for one place at most. */
function placesElsewhere(project: Project, file: string): ShownElsewhere | undefined {
  const links = (project.usedBy.get(file) ?? []).filter(({ kind }) => kind === 'component');
  const places = links.reduce((sum, { occurrences }) => sum + occurrences, 0);
  for (const { holder, definitions } of links) {
    const parent = project.files
      .get(holder)!
      .scan.products.find(({ occurrences }) => occurrences.some(({ child }) => definitions.includes(child)));
    if (parent && places > 1) return { places, in: { file: holder, parent: parent.definition } };
  }
  return undefined;
}
