import type { ExactBody } from '#core/geometry/shape/exact';
import type { InstancedBody } from './instanced-body';

/** Where the exact shape of a body can be asked for. */
export interface ExactSource {
  url: string;
  node: string;
}

/** Fetches the exact shape of a body; null when it has none. */
export async function fetchExact({ url, node }: ExactSource): Promise<ExactBody | null> {
  const answer = await fetch(`${url}/${encodeURIComponent(node)}`);
  return answer.ok ? ((await answer.json()) as ExactBody) : null;
}

/** The exact shapes of bodies on the stage, each fetched once, when a tool first comes to it. */
export class ExactShapes {
  private readonly found = new Map<string, ExactBody | 'waiting'>();

  constructor(private readonly load: (source: ExactSource) => Promise<ExactBody | null>) {}

  /** What is known of a body by now; null while it is fetched, undefined where nobody has asked. */
  known({ source, edgesOfMesh }: InstancedBody): ExactBody | null | undefined {
    if (edgesOfMesh) return edgesOfMesh;
    if (!source) return null;
    const found = this.found.get(keyOf(source));
    return found === 'waiting' ? null : found;
  }

  /** @returns null for a body that has none, or not yet */
  async of(body: InstancedBody): Promise<ExactBody | null> {
    const known = this.known(body);
    if (known || !body.source) return known ?? null;
    const key = keyOf(body.source);
    this.found.set(key, 'waiting');
    const found = await this.load(body.source).catch(() => null);
    if (found) this.found.set(key, found);
    else this.found.delete(key);
    return found;
  }
}

function keyOf({ url, node }: ExactSource): string {
  return `${url} ${node}`;
}
