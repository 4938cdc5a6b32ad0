import ELK, { type ElkExtendedEdge, type ElkNode } from 'elkjs/lib/elk-api.js';
import type { LinkMap, MapEdge, MapNode } from '#core/project/scan/link-map';

/** A node where it is drawn, in pixels of the map. */
export interface PlacedNode extends MapNode {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** An edge along the points that it is drawn through. */
export interface PlacedEdge extends MapEdge {
  points: { x: number; y: number }[];
}

export interface PlacedMap {
  nodes: PlacedNode[];
  edges: PlacedEdge[];
  width: number;
  height: number;
}

/** A letter of the label, and what stands around it. */
const [LETTER, AROUND, HEIGHT, LEAST, MOST] = [7.1, 30, 24, 60, 250];

let engine: InstanceType<typeof ELK> | null = null;

/** Layers from users to what they use, left to right; made beside the page, which stays usable. @throws Error where it fails */
export async function layOut(map: LinkMap): Promise<PlacedMap> {
  engine ??= new ELK({
    workerFactory: () => new Worker(new URL('./layout-worker.ts', import.meta.url), { type: 'module' }),
  });
  const laid = await engine.layout({
    id: 'map',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'SPLINES',
      'elk.layered.spacing.nodeNodeBetweenLayers': '70',
      'elk.spacing.nodeNode': '8',
      'elk.spacing.componentComponent': '22',
      'elk.aspectRatio': '1.5',
      'elk.layered.nodePlacement.strategy': 'BRANDES_KOEPF',
    },
    children: map.nodes.map(({ key, label }) => ({ id: key, width: widthOf(label), height: HEIGHT })),
    edges: map.edges.map(({ from, to }, n) => ({ id: String(n), sources: [from], targets: [to] })),
  });
  return placed(map, laid);
}

export function widthOf(label: string): number {
  return Math.min(MOST, Math.max(LEAST, Math.round(label.length * LETTER) + AROUND));
}

function placed({ nodes, edges }: LinkMap, laid: ElkNode): PlacedMap {
  const places = new Map((laid.children ?? []).map((child) => [child.id, child]));
  const routes = new Map((laid.edges ?? []).map((edge) => [edge.id, edge]));
  return {
    nodes: nodes.map((node) => {
      const { x = 0, y = 0, width = LEAST, height = HEIGHT } = places.get(node.key) ?? {};
      return { ...node, x, y, width, height };
    }),
    edges: edges.map((edge, n) => ({ ...edge, points: pointsOf(routes.get(String(n))) })),
    width: laid.width ?? 0,
    height: laid.height ?? 0,
  };
}

function pointsOf(edge: ElkExtendedEdge | undefined): { x: number; y: number }[] {
  return (edge?.sections ?? []).flatMap(({ startPoint, bendPoints = [], endPoint }) => [
    startPoint,
    ...bendPoints,
    endPoint,
  ]);
}

/** The middle of what is drawn through the points. */
export function middleOf(points: readonly { x: number; y: number }[]): { x: number; y: number } | undefined {
  const stretches = Math.floor((points.length - 1) / 3);
  const first = 3 * Math.floor(stretches / 2);
  const [a, b, c, d] = points.slice(first, first + 4);
  if (!a || !b || !c || !d) return points[Math.floor(points.length / 2)];
  // Of a cubic spline half way.
  const half = (of: 'x' | 'y') => (a[of] + 3 * b[of] + 3 * c[of] + d[of]) / 8;
  return stretches % 2 === 0 ? a : { x: half('x'), y: half('y') };
}

/** A path through the points: they are those of cubic splines, three for each stretch. */
export function pathThrough([first, ...rest]: readonly { x: number; y: number }[]): string {
  if (!first) return '';
  const at = ({ x, y }: { x: number; y: number }) => `${x.toFixed(1)} ${y.toFixed(1)}`;
  let path = `M${at(first)}`;
  let n = 0;
  for (; n + 2 < rest.length; n += 3) path += ` C${at(rest[n]!)} ${at(rest[n + 1]!)} ${at(rest[n + 2]!)}`;
  for (; n < rest.length; n++) path += ` L${at(rest[n]!)}`;
  return path;
}
