import type { SceneData } from '#core/geometry/scene';
import { brokenLinks, linksWrittenAlike } from '#core/jobs/repair/plan';
import type { SourceMemory } from '#core/product/source/memory';
import { ownProducts, productsByDefinition } from '#core/project/scan/content';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { structureSteps } from '#core/project/scan/structure-table';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';
import { Pictures, sceneSteps } from '#server/views/structure/scene';

/** What is around a link on the stage; the more does not help to judge. */
const LIMITS = { rows: 10_000, instances: 10_000 };

/** A broken link in the queue. */
export interface BrokenLink {
  /** Position in the queue, and its name in the address of the page. */
  key: string;
  kind: ProjectLink['kind'];
  holder: string;
  written: string;
  state: ProjectLink['state'];
  reason: string;
  occurrences: number;
  /** What the holder calls the component. */
  wanted: string;
  /** How many broken links are written with the same file name, this one included. */
  alike: number;
}

export function* queueSteps(project: Project): Steps<BrokenLink[]> {
  const queue: BrokenLink[] = [];
  for (const link of brokenLinks(project)) {
    if (queue.length % 64 === 0) yield;
    queue.push(brokenLinkView(project, link));
  }
  return queue;
}

/** A broken link as pages show it. */
export function brokenLinkView(project: Project, link: ProjectLink): BrokenLink {
  const { kind, holder, written, state, reason, occurrences } = link;
  return {
    key: keyOfLink(link),
    ...{ kind, holder, written, state, reason, occurrences },
    wanted: wantedName(project, link),
    alike: linksWrittenAlike(project, link).length,
  };
}

/** A link in the address of the page. Components have the short form. */
export const keyOfLink = ({ holder, kind, written }: Pick<ProjectLink, 'holder' | 'kind' | 'written'>) =>
  kind === 'component' ? `${holder}::${written}` : `${holder}::${written}::${kind}`;

export function findBroken(project: Project, key: string | null): ProjectLink | undefined {
  const broken = brokenLinks(project);
  return broken.find((link) => keyOfLink(link) === key) ?? broken[0];
}

function wantedName(project: Project, link: ProjectLink): string {
  const holder = project.files.get(link.holder);
  const standIns = holder && productsByDefinition(holder.scan);
  return link.definitions.flatMap((definition) => standIns?.get(definition) ?? []).at(0)?.name ?? '';
}

/** The holder's assembly with the candidate in the link's place and everything around it faint. */
export function* previewSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  link: ProjectLink,
  candidate: string | null,
): Steps<SceneData> {
  if (link.source && candidate !== null)
    return yield* sourceSteps(project, shapes, projectId, link.source, candidate);
  const tried = { ...link, state: 'sound' as const, to: candidate };
  const uses = new Map(project.uses);
  if (candidate !== null)
    uses.set(
      link.holder,
      (uses.get(link.holder) ?? []).map((other) => (other === link ? tried : other)),
    );
  const table = yield* structureSteps({ files: project.files, uses }, link.holder, true, LIMITS);
  const inPlace = new Set<number>();
  table.rows.forEach((row, n) => {
    const isLink = row.link?.holder === link.holder && row.link.written === link.written;
    if (isLink || inPlace.has(row.parent)) inPlace.add(n);
  });
  const scene = yield* sceneSteps(table, new Pictures(project, shapes, projectId));
  // A body may stand in the place and around it: each tone is drawn as a body of its own.
  const bodies: SceneData['bodies'] = [];
  const numbers = new Map<string, number>();
  const instances = scene.instances.map((instance) => {
    const tone = inPlace.has(instance.row) ? ('focus' as const) : ('ghost' as const);
    const key = `${tone} ${instance.body}`;
    let body = numbers.get(key);
    if (body === undefined) {
      body = bodies.push(scene.bodies[instance.body]!) - 1;
      numbers.set(key, body);
    }
    return { ...instance, body, tone };
  });
  return { bodies, instances };
}

/** A file that may be the source of another: the bodies that were taken from it stand out among the others. */
function* sourceSteps(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  { bodies }: SourceMemory,
  candidate: string,
): Steps<SceneData> {
  const table = yield* structureSteps(project, candidate, true, LIMITS);
  const scene = yield* sceneSteps(table, new Pictures(project, shapes, projectId));
  const taken = new Set(bodies.map(({ id, name }) => name || id));
  const names = new Map(
    ownProducts(project.files.get(candidate)!.scan).flatMap((product) =>
      product.bodies.map(({ id, name }) => [id, name || id] as const),
    ),
  );
  return {
    ...scene,
    instances: scene.instances.map((instance) => ({
      ...instance,
      tone: taken.size === 0 || taken.has(names.get(table.bodies[instance.body]!.body)!) ? 'focus' : 'ghost',
    })),
  };
}
