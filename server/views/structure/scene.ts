import { href } from 'react-router';
import type { SceneBody, SceneData, ScenePictures } from '#core/geometry/scene';
import { onceFor } from '#core/once';
import { type Appearance, appearanceOf } from '#core/product/appearance';
import type { Project, ScannedFile } from '#core/project/scan/project';
import type { StructureTable } from '#core/project/scan/structure-table';
import type { Steps } from '#core/steps';
import type { ShapeState } from '#server/jobs/shapes';

/** Finds the pictures of bodies: served by content; one that is not made yet is stood in for by that of another version. */
export class Pictures implements ScenePictures {
  private readonly known = new Map<
    string,
    { boxes: Map<number, readonly number[]>; ids: readonly number[] }
  >();

  constructor(
    private readonly project: Project,
    private readonly shapes: ReadonlyMap<string, ShapeState>,
    private readonly projectId: string,
  ) {}

  of(sha256: string, id: number, appearance: Appearance): SceneBody {
    const state = this.shapes.get(sha256);
    const plain = { url: null, node: String(id), ...appearanceOf(appearance) };
    if (state?.gltf) {
      const box = this.content(sha256).boxes.get(id);
      return { ...plain, url: this.address(sha256, state.gltf), ...(box && { box: box.map(tenth) }) };
    }
    const other = state?.other;
    const otherId = other && this.inOther(sha256, id, other);
    if (other && otherId !== undefined)
      return {
        ...plain,
        url: this.address(other.sha256, other.gltf),
        node: String(otherId),
        isOlder: true,
      };
    const isGivenUp = state?.state === 'failed' || state?.state === 'cancelled' || state?.state === 'done';
    return isGivenUp ? { ...plain, failed: true } : plain;
  }

  private address(sha256: string, gltf: string): string {
    return href('/projects/:projectId/shapes/:sha256/:gltf', { projectId: this.projectId, sha256, gltf });
  }

  /** The same body in another version: by its number in the file, else by its place when there are as many. */
  private inOther(
    sha256: string,
    id: number,
    { bodies }: NonNullable<ShapeState['other']>,
  ): number | undefined {
    if (bodies.includes(id)) return id;
    const { ids } = this.content(sha256);
    return ids.length === bodies.length ? bodies[ids.indexOf(id)] : undefined;
  }

  private content(sha256: string): { boxes: Map<number, readonly number[]>; ids: readonly number[] } {
    const known = this.known.get(sha256);
    if (known) return known;
    const file = filesByContent(this.project).get(sha256);
    const made = {
      boxes: new Map(
        this.shapes.get(sha256)?.bodies?.flatMap(({ body, facts }) => (facts ? [[body, facts.box]] : [])),
      ),
      ids: file?.scan.products.flatMap(({ bodies }) => bodies.map((body) => body.id)) ?? [],
    };
    this.known.set(sha256, made);
    return made;
  }
}

/** What the stage draws of a structure. */
export function* sceneSteps(
  { bodies, instances }: Pick<StructureTable, 'bodies' | 'instances'>,
  pictures: Pictures,
): Steps<SceneData> {
  const drawn: SceneBody[] = [];
  for (const [n, body] of bodies.entries()) {
    if (n % 128 === 0) yield;
    drawn.push(pictures.of(body.sha256, body.body, body));
  }
  return { bodies: drawn, instances };
}

/** The files of a project by what they hold; of several that hold the same, the last. */
const filesByContent = onceFor(
  (project: Project): ReadonlyMap<string, ScannedFile> =>
    new Map([...project.files.values()].map((file) => [file.sha256, file])),
);

/** A tenth of a millimetre is enough to stand for what is on its way. */
function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}
