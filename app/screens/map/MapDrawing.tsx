import { useRef } from 'react';
import { isBroken, type LinkState } from '#core/files/links/resolve';
import type { LinkKind } from '#core/project/formats/kinds';
import { plural } from '../../ui/format';
import { middleOf, type PlacedEdge, type PlacedMap, type PlacedNode, pathThrough } from './layout';
import classes from './Map.module.css';

/** How a kind of link is drawn: whole, dashed, dotted. What is written in an exported picture is the same. */
export const DASHES: { readonly [kind in LinkKind]: string | undefined } = {
  component: undefined,
  resource: '1 4',
  source: '9 5',
  context: '9 5 2 5',
  drawing: '5 4',
  attachment: '2 5 7 5',
  view: '2 3',
  listed: '2 3',
};

/** A sign in the middle of a link that is not sound: its shape says the state without its colour. */
const SIGNS: { readonly [state in LinkState]: string | null } = {
  sound: null,
  missing: 'M-4 -4 4 4M4 -4 -4 4',
  ambiguous: 'M0 -5 5 0 0 5 -5 0Z',
  behind: 'M4 0H-4M-1 -3.5 -4.5 0 -1 3.5',
  loop: 'M3.5 -2A4 4 0 1 0 4 1.5M4 -4.5V-1.5H1',
};

interface MapDrawingProps {
  map: PlacedMap;
  focus: string | null;
  selected: string | null;
  onSelect: (key: string) => void;
  /** What Enter and a double click do: fold and unfold, or look around a file. */
  onOpen: (node: PlacedNode) => void;
}

/** The map as it is drawn. For the keyboard it is one stop: arrows go to the nearest node in their direction. */
export function MapDrawing({ map, focus, selected, onSelect, onOpen }: MapDrawingProps) {
  const nodes = useRef(new Map<string, SVGGElement>());
  const current = map.nodes.find(({ key }) => key === selected) ?? map.nodes[0];
  const touching = new Set(
    map.edges.flatMap(({ from, to }) => (from === selected ? [to] : to === selected ? [from] : [])),
  );
  const onKeyDown = (event: React.KeyboardEvent, node: PlacedNode) => {
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      if (event.key === 'Enter') onOpen(node);
      else onSelect(node.key);
      return;
    }
    const next = nextNode(map.nodes, node, event.key);
    if (!next) return;
    event.preventDefault();
    onSelect(next.key);
    nodes.current.get(next.key)?.focus();
  };
  return (
    <svg
      className={classes.drawing}
      width={map.width}
      height={map.height}
      viewBox={`0 0 ${map.width} ${map.height}`}
      role="group"
      aria-label="Map of links"
      data-testid="map"
    >
      {map.edges.map((edge) => (
        <Edge
          key={`${edge.from} ${edge.to} ${edge.kind} ${edge.state}`}
          edge={edge}
          isFaint={selected !== null && edge.from !== selected && edge.to !== selected}
        />
      ))}
      {map.nodes.map((node) => (
        <g
          key={node.key}
          ref={(element) => {
            if (element) nodes.current.set(node.key, element);
            else nodes.current.delete(node.key);
          }}
          className={classes.node}
          transform={`translate(${node.x} ${node.y})`}
          data-what={node.what}
          data-focus={node.path === focus || undefined}
          data-selected={node.key === selected || undefined}
          data-faint={(selected !== null && node.key !== selected && !touching.has(node.key)) || undefined}
          role="button"
          tabIndex={node.key === current?.key ? 0 : -1}
          aria-pressed={node.key === selected}
          aria-label={inWords(node, map.edges)}
          onClick={() => onSelect(node.key)}
          onDoubleClick={() => onOpen(node)}
          onKeyDown={(event) => onKeyDown(event, node)}
        >
          <title>{node.path}</title>
          {node.what === 'folder' && (
            <rect className={classes.behind} x="4" y="-4" width={node.width} height={node.height} rx="4" />
          )}
          <rect width={node.width} height={node.height} rx={node.role === 'assembly' ? 4 : 14} />
          <text x="14" y={node.height / 2 + 4}>
            {shortened(node.label, node.width, node.files)}
          </text>
          {node.what === 'folder' && (
            <text className={classes.count} x={node.width - 8} y={node.height / 2 + 4} textAnchor="end">
              {node.files}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}

function Edge({ edge: { kind, state, count, points }, isFaint }: { edge: PlacedEdge; isFaint: boolean }) {
  const middle = middleOf(points);
  const last = points.at(-1);
  const sign = SIGNS[state];
  return (
    <g className={classes.edge} data-state={state} data-faint={(isFaint && !isBroken(state)) || undefined}>
      <path d={pathThrough(points)} strokeDasharray={DASHES[kind]} />
      {last && (
        <path
          className={classes.head}
          d={`M${last.x - 6} ${last.y - 3.5}L${last.x} ${last.y}L${last.x - 6} ${last.y + 3.5}`}
        />
      )}
      {middle && sign !== null && (
        <g transform={`translate(${middle.x} ${middle.y})`}>
          <circle r="8" className={classes.signGround} />
          <path className={classes.sign} d={sign} />
        </g>
      )}
      {middle && count > 1 && sign === null && (
        <text className={classes.times} x={middle.x} y={middle.y - 4} textAnchor="middle">
          {count}
        </text>
      )}
    </g>
  );
}

function inWords({ key, what, label, role, files }: PlacedNode, edges: readonly PlacedEdge[]): string {
  const uses = edges.filter(({ from }) => from === key);
  const users = edges.filter(({ to }) => to === key);
  const broken = uses.filter(({ state }) => isBroken(state)).length;
  const kind =
    what === 'folder' ? `folder, ${plural(files, 'file')}` : what === 'missing' ? 'not there' : (role ?? '');
  return [
    `${label}, ${kind}`,
    `uses ${uses.length}`,
    `used in ${users.length}`,
    ...(broken > 0 ? [`${plural(broken, 'broken link')}`] : []),
  ].join(', ');
}

/** What there is room for: the beginning is cut, since names of parts differ at their ends. */
function shortened(label: string, width: number, files: number): string {
  const room = Math.floor((width - 28 - (files > 1 ? 26 : 0)) / 7.1);
  return label.length <= room ? label : `…${label.slice(label.length - room + 1)}`;
}

const DIRECTIONS: { readonly [key: string]: readonly [x: number, y: number] } = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowDown: [0, 1],
  ArrowUp: [0, -1],
};

/** The nearest node in the direction of an arrow. */
export function nextNode(
  nodes: readonly PlacedNode[],
  from: PlacedNode,
  key: string,
): PlacedNode | undefined {
  const direction = DIRECTIONS[key];
  if (!direction) return undefined;
  const centre = ({ x, y, width, height }: PlacedNode) => [x + width / 2, y + height / 2] as const;
  const [x, y] = centre(from);
  let best: PlacedNode | undefined;
  let least = Infinity;
  for (const node of nodes) {
    const [dx, dy] = [centre(node)[0] - x, centre(node)[1] - y];
    const along = dx * direction[0] + dy * direction[1];
    const across = Math.abs(dx * direction[1]) + Math.abs(dy * direction[0]);
    if (along <= 1) continue;
    const far = along + 2 * across;
    if (far < least) [best, least] = [node, far];
  }
  return best;
}
