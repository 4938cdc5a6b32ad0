import type { SplitComponentView } from '#core/jobs/split/view';
import type { SplitBody } from '#server/views/operations/split-view';

/** A line of the split table: a component with its file, one of its bodies, or a body that is not split off. */
export type SplitRow =
  | {
      kind: 'component';
      key: string;
      component: SplitComponentView;
      bodies: readonly SplitBody[];
      number: number;
    }
  | { kind: 'body'; key: string; body: SplitBody; position: number; within: number }
  | { kind: 'left'; key: string; body: SplitBody; position: number };

/** The component first, then its bodies when there are several; what is not split off comes last. */
export function splitRows(
  bodies: readonly SplitBody[],
  components: readonly SplitComponentView[],
  closed: (key: string) => boolean,
  filter: string,
): SplitRow[] {
  const wanted = filter.trim().toLowerCase();
  const rows: SplitRow[] = [];
  const keys = bodyKeys(bodies);
  const taken = new Set(components.flatMap((component) => component.bodies));
  for (const [number, component] of components.entries()) {
    const own = component.bodies.map((position) => bodies[position]!);
    const fits = [component.name, component.file, ...own.map(({ name }) => name)];
    if (wanted && !fits.some((text) => text.toLowerCase().includes(wanted))) continue;
    const key = componentKey(bodies, component);
    rows.push({ kind: 'component', key, component, bodies: own, number });
    if (own.length > 1 && !closed(key))
      for (const position of component.bodies)
        rows.push({
          kind: 'body',
          key: keys[position]!,
          body: bodies[position]!,
          position,
          within: number,
        });
  }
  for (const [position, body] of bodies.entries()) {
    if (taken.has(position) || (wanted && !body.name.toLowerCase().includes(wanted))) continue;
    rows.push({ kind: 'left', key: keys[position]!, body, position });
  }
  return rows;
}

/** A component is named by its first body: that stays when names and order change. */
export function componentKey(bodies: readonly SplitBody[], { bodies: own }: SplitComponentView): string {
  return `c${bodies[own[0]!]!.id}`;
}

/** Names the row of each body: by its number, and by its place among its placings where there are several. */
export function bodyKeys(bodies: readonly SplitBody[]): string[] {
  const met = new Map<number, number>();
  return bodies.map(({ id }) => {
    const before = met.get(id) ?? 0;
    met.set(id, before + 1);
    return before === 0 ? `b${id}` : `b${id}.${before + 1}`;
  });
}

/**
 * The keys of rows that are selected, as the rows are now: a component that is left out goes on as the row of its body, and the
 * other way round.
 */
export function keysNow(rows: readonly SplitRow[], selected: readonly string[]): string[] {
  const present = new Set(rows.map(({ key }) => key));
  return selected.map((key) => {
    const other = (key.startsWith('c') ? 'b' : 'c') + key.slice(1);
    return !present.has(key) && present.has(other) ? other : key;
  });
}

/** Every body that some rows stand for, each once, by position. */
export function positionsIn(rows: readonly SplitRow[]): number[] {
  return [
    ...new Set(rows.flatMap((row) => (row.kind === 'component' ? row.component.bodies : [row.position]))),
  ];
}

/** Where bodies stand, by their numbers; numbers of none are passed over. */
export function positionsOf(bodies: readonly SplitBody[], ids: readonly string[]): Set<number> {
  const wanted = new Set(ids);
  return new Set(bodies.flatMap(({ id }, position) => (wanted.has(String(id)) ? [position] : [])));
}

/** Bodies made one component: they leave the sets that they were in. */
export function joined(together: readonly (readonly number[])[], ids: readonly number[]): number[][] {
  return [...apart(together, ids), [...ids]];
}

/** Bodies that are components of their own again. */
export function apart(together: readonly (readonly number[])[], ids: readonly number[]): number[][] {
  return together.map((set) => set.filter((id) => !ids.includes(id))).filter((set) => set.length > 1);
}

/** Choices by body with another value for some bodies; null leaves it to the source again. */
export function withChoice(
  chosen: { readonly [body: string]: string },
  ids: readonly number[],
  value: string | null,
): { [body: string]: string } {
  const after = { ...chosen };
  for (const id of ids) {
    if (value === null) delete after[id];
    else after[id] = value;
  }
  return after;
}

/** Names set for whole components: under the first body of each, and under no other. */
export function withName(
  names: { [body: string]: string },
  bodies: readonly SplitBody[],
  { bodies: own }: SplitComponentView,
  name: string,
): { [body: string]: string } {
  const ids = own.map((position) => bodies[position]!.id);
  const without = withChoice(names, ids, null);
  return name === '' ? without : withChoice(without, ids.slice(0, 1), name);
}

/** Lines pasted from a spreadsheet: the first column names one component after another, from a given one on. */
export function pastedNames(text: string): string[] {
  return text
    .replace(/\r\n?/g, '\n')
    .replace(/\n+$/, '')
    .split('\n')
    .map((line) => line.split('\t')[0]!.trim());
}
