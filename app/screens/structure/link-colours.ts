import type { LinkState } from '#core/files/links/resolve';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import type { Coloured } from '../../stage/colouring';
import { count } from '../../ui/format';

/** On the stage, lit: sound ones step back, the others stand out, each with a hue and a lightness of its own. */
const COLOURS: { readonly [state in LinkState]: string } = {
  sound: '#a9c4be',
  behind: '#d9960f',
  ambiguous: '#7b4fc0',
  loop: '#5a1407',
  missing: '#c8371a',
};

/**
 * The colours of rows by the state of the link that brought them in; what lives in its parent's file goes with its parent. What is
 * missing is not on the stage, but the legend counts it.
 */
export function coloursByLink(rows: readonly Pick<StructureViewRow, 'link' | 'parent'>[]): Coloured {
  const states: (LinkState | null)[] = [];
  const counts = new Map<LinkState, number>();
  const colours = new Map<number, string>();
  rows.forEach(({ link, parent }, n) => {
    const state = link?.state ?? states[parent] ?? null;
    states.push(state);
    if (state) colours.set(n, COLOURS[state]);
    if (link) counts.set(link.state, (counts.get(link.state) ?? 0) + 1);
  });
  return {
    colours,
    legend: [...counts].map(([state, some]) => [
      `${count(some)} ${state}${state === 'missing' ? ', not on the model' : ''}`,
      COLOURS[state],
    ]),
  };
}
