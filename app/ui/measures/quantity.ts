import { Parser } from 'expr-eval-fork';
import type { DecimalSign, LengthUnit } from '#server/auth/preferences';
import { LENGTHS } from './measures';

/** What a field takes: lengths, angles, parts of a hundred, or bare numbers. */
export type Kind = 'length' | 'angle' | 'percent' | 'number';

/** Units by their names, in what the kind is counted in: mm, degrees, percent. */
const UNITS: { readonly [kind in Kind]: { readonly [name: string]: number } } = {
  length: {
    ...Object.fromEntries(Object.entries(LENGTHS).map(([name, { mm }]) => [name, mm])),
    ...{ µm: 0.001, μm: 0.001, um: 0.001, dm: 100, inch: 25.4, inches: 25.4, '"': 25.4, '″': 25.4 },
    ...{ ft: 304.8, foot: 304.8, feet: 304.8, "'": 304.8, '′': 304.8 },
  },
  angle: { '°': 1, deg: 1, rad: 180 / Math.PI },
  percent: { '%': 1 },
  number: {},
};

const KIND_WORDS: { readonly [kind in Kind]: string } = {
  length: 'a length, such as 12.5 mm or 1/2 in',
  angle: 'an angle, such as 30°',
  percent: 'a part of a hundred, such as 12 %',
  number: 'a number',
};

/** Part of a sum: so many of a unit, or a bare number. */
interface Term {
  amount: number;
  hasUnit: boolean;
}

/** Inches and feet in halves, quarters and so on: 1/2 in, 1 3/8". */
const FRACTIONS = /(?<![\d.,] *)(?:(\d+) +)?(\d+)\/(\d+) *(in|inch|inches|ft|foot|feet|["'″′])(?![a-z])/gi;

/** Longer is no number that somebody types. */
const LONGEST = 100;

export type Reading = { value: number } | { error: string };

/**
 * What somebody has typed, as they mean it: point or comma, thousands apart, units, and sums.
 * A bare number has the unit of the field; in a product it is a factor.
 * @param unit of lengths that are written without one
 * @param decimal the sign that whoever types it uses; it decides where both readings make sense (`1,200`)
 * @returns the value in mm, degrees, percent, or as it is; or what is wrong, in words
 */
export function readQuantity(text: string, kind: Kind, unit: LengthUnit, decimal: DecimalSign): Reading {
  const error = { error: `“${text.trim().slice(0, 40)}” is not ${KIND_WORDS[kind]}.` };
  if (text.length > LONGEST) return error;
  const units = UNITS[kind];
  const usual = kind === 'length' ? LENGTHS[unit].mm : 1;
  const terms: { [name: string]: Term } = {};
  const asVariables = text
    .replaceAll(/[−–]/g, '-')
    .replaceAll('×', '*')
    .replaceAll(FRACTIONS, (_, whole = '0', above, below, name) => {
      const amount = Number(whole) + Number(above) / Number(below);
      return Number.isFinite(amount) ? `${amount.toFixed(10).replace('.', decimal)} ${name}` : '?';
    })
    .replaceAll(
      /(\d(?:[\d.,'’\u00a0\u202f\u2009]| (?=\d{3}(?!\d)))*|[.,]\d+)\s*([°%"″'′]|[a-zµμ]+)?/gi,
      (whole, digits: string, name: string | undefined) => {
        const known = name === undefined ? undefined : units[name.toLowerCase()];
        const amount = readNumber(digits, decimal);
        if (amount === null || (name !== undefined && known === undefined)) return `?${whole}`;
        const variable = `q${Object.keys(terms).length}`;
        terms[variable] = { amount: amount * (known ?? 1), hasUnit: known !== undefined };
        return ` ${variable} `;
      },
    );
  try {
    // Nothing but variables, signs and brackets is left.
    if (!/^[\sq\d+\-*/()]+$/.test(asVariables)) return error;
    const result = sumsOf(usual)
      .parse(asVariables)
      .evaluate(terms as never) as unknown as Term;
    const value = inUnit(result, usual);
    // What the computer adds in the last digits nobody typed.
    return Number.isFinite(value) ? { value: Number(value.toPrecision(12)) } : error;
  } catch {
    return error;
  }
}

const inUnit = ({ amount, hasUnit }: Term, usual: number) => (hasUnit ? amount : amount * usual);

/** Sums with units: what is added to a length is one, what multiplies it is none. */
function sumsOf(usual: number): Parser {
  const parser = new Parser({
    operators: Object.fromEntries(
      ['logical', 'comparison', 'assignment', 'array', 'conditional', 'concatenate', 'in', 'fndef']
        .concat(['factorial', 'remainder', 'power'])
        .map((name) => [name, false]),
    ),
  });
  const added = (sign: 1 | -1) => (a: Term, b: Term) => {
    const hasUnit = a.hasUnit || b.hasUnit;
    const of = (term: Term) => (hasUnit ? inUnit(term, usual) : term.amount);
    return { amount: of(a) + sign * of(b), hasUnit };
  };
  const refused = () => {
    throw new Error('A length times a length is an area.');
  };
  Object.assign(parser, {
    functions: {},
    consts: {},
    unaryOps: {
      '+': (term: Term) => term,
      '-': ({ amount, hasUnit }: Term) => ({ amount: -amount, hasUnit }),
    },
    binaryOps: {
      '+': added(1),
      '-': added(-1),
      '*': (a: Term, b: Term) =>
        a.hasUnit && b.hasUnit ? refused() : { amount: a.amount * b.amount, hasUnit: a.hasUnit || b.hasUnit },
      '/': (a: Term, b: Term) =>
        b.hasUnit && !a.hasUnit
          ? refused()
          : { amount: a.amount / b.amount, hasUnit: a.hasUnit && !b.hasUnit },
    },
  });
  return parser;
}

/** Digits with point, comma, and what keeps thousands apart. null for what no one writes. */
function readNumber(digits: string, decimal: DecimalSign): number | null {
  const bare = digits.replaceAll(/['’\s\u00a0\u202f\u2009]/g, '');
  const signs = [...bare.matchAll(/[.,]/g)].map(([sign]) => sign);
  const last = signs.at(-1);
  if (last === undefined) return Number(bare);
  const isOne = signs.filter((sign) => sign === last).length === 1;
  // 1.200.000, and 1,200 of somebody who writes a point: thousands.
  const looksGrouped = /^[1-9]\d{0,2}([.,]\d{3})+$/.test(bare) && new Set(signs).size === 1;
  if (looksGrouped && (!isOne || last !== decimal)) return Number(bare.replaceAll(last, ''));
  if (!isOne) return null;
  const other = last === '.' ? ',' : '.';
  const [before, after] = bare.split(last) as [string, string];
  if (before.includes(other) && !new RegExp(`^\\d{1,3}(\\${other}\\d{3})+$`).test(before)) return null;
  return Number(`${before.replaceAll(other, '')}.${after}`);
}
