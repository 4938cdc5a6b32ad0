import type { StructureView, StructureViewRow } from '#server/views/structure/structure-view';
import type { Coloured, Colouring } from '../../stage/colouring';
import { plural } from '../../ui/format';
import type { Scale } from '../../ui/measures/measures';
import { coloursByLink } from './link-colours';
import type { Scales } from './scales';

/** Of materials, one after the other, the one of which there is most first: told apart by hue and lightness. */
const HUES = ['#7f8f9c', '#b3824a', '#4f9a76', '#9d5f77', '#bfa93a', '#5d74bd', '#86639f', '#3f93ab'];

/** What says nothing of itself. */
const UNKNOWN = '#cfcbc2';

/** From little to much. */
const RAMP = ['#dcebe7', '#a5cdc5', '#68ada1', '#2f8478', '#0f4d45'];

type MaterialRow = Pick<StructureViewRow, 'material' | 'bodies'>;

/** Components with bodies of their own by what they are made of. */
export function coloursByMaterial(rows: readonly MaterialRow[]): Coloured {
  const counts = new Map<string, number>();
  for (const { material, bodies } of rows)
    if (material && bodies > 0) counts.set(material, (counts.get(material) ?? 0) + 1);
  const materials = [...counts].sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1));
  const hues = new Map(materials.map(([material], n) => [material, HUES[n % HUES.length]!]));
  const without = rows.filter(({ material, bodies }) => !material && bodies > 0).length;
  return {
    colours: new Map(rows.map(({ material }, n) => [n, (material && hues.get(material)) || UNKNOWN])),
    legend: [
      ...materials.map(([material, count]): [string, string] => [
        `${material}, ${plural(count, 'component')}`,
        hues.get(material)!,
      ]),
      ...(without > 0
        ? [[`without a material, ${plural(without, 'component')}`, UNKNOWN] as [string, string]]
        : []),
    ],
  };
}

/**
 * Components by how much there is of each, in as many steps as there are shades: each step holds as many components as the others.
 * @param amounts of each row by itself; null where it is not known, or is the sum of what lies below
 * @param scale one unit for all of them
 */
export function coloursByAmount(amounts: readonly (number | null)[], scale: Scale): Coloured {
  const known = amounts.filter((amount) => amount !== null && amount > 0).sort((a, b) => a! - b!) as number[];
  const steps = RAMP.map((_, n) => known[Math.floor((n * known.length) / RAMP.length)]!);
  const stepOf = (amount: number) =>
    Math.max(
      0,
      steps.findLastIndex((least) => amount >= least),
    );
  const isUsed = new Set(known.map(stepOf));
  return {
    colours: new Map(
      amounts.map((amount, n) => [n, amount !== null && amount > 0 ? RAMP[stepOf(amount)]! : UNKNOWN]),
    ),
    legend: RAMP.flatMap((colour, n): [string, string][] =>
      isUsed.has(n) ? [[`from ${scale.words(steps[n]!)}`, colour]] : [],
    ),
  };
}

const DAY = 24 * 60 * 60 * 1000;
/** How long ago, from the newest to the oldest. */
const AGES: readonly [most: number, words: string][] = [
  [DAY, 'within a day'],
  [7 * DAY, 'within a week'],
  [30 * DAY, 'within 30 days'],
  [365 * DAY, 'within a year'],
  [Number.POSITIVE_INFINITY, 'longer ago'],
];

/**
 * Components by when the newest version of their file was made.
 * @param changed ISO 8601; undefined for a file that is not there
 */
export function coloursByAge(changed: readonly (string | undefined)[], now: number): Coloured {
  const ages = changed.map((time) => {
    if (time === undefined) return null;
    const age = now - Date.parse(time);
    return AGES.findIndex(([most]) => age < most);
  });
  // What changed last is the strongest.
  const colourOf = (age: number) => RAMP[RAMP.length - 1 - age]!;
  return {
    colours: new Map(ages.map((age, n) => [n, age === null ? UNKNOWN : colourOf(age)])),
    legend: AGES.flatMap(([, words], age): [string, string][] => {
      const count = ages.filter((other) => other === age).length;
      return count > 0 ? [[`${words}, ${plural(count, 'component')}`, colourOf(age)]] : [];
    }),
  };
}

/** All ways to colour a structure, as far as anything is known. */
export function colouringsOf(
  rows: readonly StructureViewRow[],
  files: StructureView['files'],
  { volume, mass }: Scales,
): Colouring[] {
  const own = (what: 'volume' | 'mass') =>
    rows.map(({ bodies, children, totals }) => (bodies > 0 && children === 0 ? totals[what] : null));
  const ways: (Colouring & { isKnown: boolean })[] = [
    { key: 'link', title: 'link state', isKnown: true, find: () => coloursByLink(rows) },
    {
      key: 'material',
      title: 'material',
      isKnown: rows.some(({ material }) => material),
      find: () => coloursByMaterial(rows),
    },
    {
      key: 'mass',
      title: 'mass',
      isKnown: rows.some(({ totals }) => totals.mass),
      find: () => coloursByAmount(own('mass'), mass),
    },
    {
      key: 'volume',
      title: 'volume',
      isKnown: rows.some(({ totals }) => totals.volume),
      find: () => coloursByAmount(own('volume'), volume),
    },
  ];
  ways.push({
    key: 'age',
    title: 'last change of the file',
    isKnown: Object.values(files).some(({ changed }) => changed !== undefined),
    find: () =>
      coloursByAge(
        rows.map(({ file }) => files[file]?.changed),
        Date.now(),
      ),
  });
  return ways.filter(({ isKnown }) => isKnown);
}
