import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eachReference } from '../each-reference';
import { InstanceIndexer } from '../instance-index';
import { indexPlainSection } from './fast-indexer';
import { unboundedPlaces, unboundedPlacesSlowly } from './fast-unbounded';

/** What the plain TypeScript indexer says, or that it refuses. */
function slowly(bytes: Uint8Array, from: number) {
  try {
    const indexer = new InstanceIndexer(bytes);
    const at = indexer.indexSection(from);
    return { at, index: indexer.finish() };
  } catch {
    return undefined;
  }
}

function expectSame(bytes: Uint8Array, from = 0): void {
  const fast = indexPlainSection(bytes, from);
  const slow = slowly(bytes, from);
  // The fast one may give up on what the other reads, but never the other way round, and never differently.
  if (!fast) return;
  expect(slow).toBeDefined();
  expect(fast.at).toBe(slow!.at);
  const { index } = fast;
  expect(index.count).toBe(slow!.index.count);
  for (const key of ['ids', 'starts', 'contents', 'ends'] as const)
    expect(index[key]).toEqual(slow!.index[key].slice());
  const words = ({ types, keywords }: { types: Uint16Array; keywords: readonly string[] }) =>
    [...types].map((type) => keywords[type]);
  expect(words(index)).toEqual(words(slow!.index));
}

const bytesOf = (text: string) => new Uint8Array(Buffer.from(text, 'latin1'));
const DEMO = path.join(import.meta.dirname, '../../../../demo/files/hx-12');

describe('the fast indexer', () => {
  it('agrees with the plain one on every demo file', () => {
    for (const file of readdirSync(DEMO, { recursive: true }) as string[]) {
      if (!file.endsWith('.stp')) continue;
      const bytes = readFileSync(path.join(DEMO, file));
      const from = bytes.indexOf('DATA;') + 5;
      expect(indexPlainSection(bytes, from), file).toBeDefined();
      expectSame(bytes, from);
    }
  });

  it.each([
    "#1=A();#22 = BB ( 'x;y' ) ;\n\n#3=( A() B(#1) );ENDSEC;",
    "#1=A('');#2=A('''');#3=A('it''s; #4=B();','');ENDSEC;",
    "/* #9=X(); */#1=/* ; */A('/*', 1./2.);/* '; */#2=B();",
    '#1=A();#1=A();#4294967295=LONG_KEYWORD_THAT_GOES_ON_AND_ON();#7=LONG_KEYWORD_THAT_GOES();#8=LONG_KEYWORD_THAT_GOES_ON_AND_ON2();',
    '#1=a();#2=A();#3=!USER_DEFINED();#4=A-B();',
    '',
    'ENDSEC;',
    '   ',
  ])('agrees on %j', (text) => {
    expect(indexPlainSection(bytesOf(text), 0)).toBeDefined();
    expectSame(bytesOf(text));
  });

  it.each([
    "#1=A('x",
    '#1=A(',
    '#=A();',
    '#1;',
    '#1=;',
    '#99999999999=A();',
    '#1=A(\0);',
    '#4294967296=A();',
  ])('leaves %j to the plain one', (text) => {
    expect(indexPlainSection(bytesOf(text), 0)).toBeUndefined();
  });

  it('agrees on random text of the right signs', () => {
    const sign = fc.constantFrom(
      '#',
      '1',
      '23',
      '=',
      'AB',
      'ABCDE',
      'ABCDEFGHIJ',
      'ABCDEFGHIK',
      '(',
      ')',
      "'",
      "''",
      ';',
      ',',
      '/',
      '*',
      '/*',
      '*/',
      ' ',
      '\n',
      '.',
      '$',
      'é',
      '\\',
    );
    const instance = fc
      .tuple(
        fc.nat(9999),
        fc.constantFrom('A', 'POINT', 'CARTESIAN_POINT', 'CARTESIAN_POINTS'),
        fc.array(sign, { maxLength: 12 }),
      )
      .map(([id, word, rest]) => `#${id}=${word}(${rest.join('')});`);
    const text = fc.array(
      fc.oneof(
        { weight: 5, arbitrary: instance },
        { weight: 1, arbitrary: fc.array(sign).map((signs) => signs.join('')) },
      ),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(text, fc.constantFrom('', '\n', '\r\n'), (pieces, between) =>
        expectSame(bytesOf(pieces.join(between))),
      ),
      { numRuns: 1500 },
    );
  });

  it('makes room for more instances than it guessed', () => {
    const many = bytesOf(Array.from({ length: 50_000 }, (_, n) => `#${n + 1}=A();`).join(''));
    expect(indexPlainSection(many, 0)!.index.count).toBe(50_000);
    expectSame(many);
  });

  it('leaves more kinds of entity than it can tell apart to the plain one', () => {
    const kinds = bytesOf(Array.from({ length: 3000 }, (_, n) => `#${n + 1}=K${n}();`).join(''));
    expect(indexPlainSection(kinds, 0)).toBeUndefined();
    expect(slowly(kinds, 0)!.index.keywords).toHaveLength(3001);
  });
});

describe('instances that are referred to and not there', () => {
  const missingIn = (text: string) => indexPlainSection(bytesOf(text), 0, true)!.missing;

  it('are counted, whatever stands in strings and comments', () => {
    expect(missingIn("#1=A(#2,#3);#2=B();#3=C('#4',(#1,#2));/* #5 */ENDSEC;")).toBe(0);
    expect(missingIn("#1=A(#2,#3);#2=B('''#9');#33=C(#3,#1234567,#2);ENDSEC;")).toBe(2);
    expect(missingIn(`#1=A('${'x'.repeat(40)}#8${'y'.repeat(40)}',#1, #1 ,#7);ENDSEC;`)).toBe(1);
    expect(missingIn('#1=A(#99999999,#999999999,#4294967299);ENDSEC;')).toBe(1);
    expect(missingIn('#1=(A(#1)B(#6,*,$));ENDSEC;')).toBe(1);
  });

  it('are those that a table of all references leads nowhere for', () => {
    const instance = fc.record({
      id: fc.integer({ min: 1, max: 60 }),
      parameters: fc.array(
        fc.oneof(
          fc.integer({ min: 1, max: 70 }).map((id) => `#${id}`),
          fc
            .string({ maxLength: 20 })
            .map((text) => `'${text.replace(/[^ -~]/g, '.').replaceAll("'", "''")}'`),
          fc.constantFrom("''", '1.5E-3', '.T.', '(#3,(#4))', '/* #71; */ $', '#12345678', '\n#5'),
        ),
        { maxLength: 12 },
      ),
    });
    fc.assert(
      fc.property(fc.uniqueArray(instance, { selector: ({ id }) => id, minLength: 1 }), (instances) => {
        const text = instances.map(({ id, parameters }) => `#${id}=A(${parameters.join(',')});`).join('\n');
        const there = new Set(instances.map(({ id }) => id));
        const wanted = new Set<number>();
        const bytes = bytesOf(`${text}ENDSEC;`);
        eachReference(bytes, 0, bytes.length, (id) => wanted.add(id > 9999 ? 0 : id));
        const missing = [...wanted].filter((id) => !there.has(id));
        expect(indexPlainSection(bytes, 0, true)!.missing).toBe(missing.length);
      }),
      { numRuns: 300 },
    );
  });
});

describe('places of numbers without bounds', () => {
  const places = (text: string) => unboundedPlaces(bytesOf(text)).map((at) => text.slice(at, at + 5));

  it.each([
    ["#1=CARTESIAN_POINT('',(1.E308,2.,3.));", ['E308,']],
    ["#1=CARTESIAN_POINT('',(1.5e+100,NAN,-nan));", ['e+100', 'NAN,-', 'nan))']],
    ["#1=VECTOR('',#2,INF);#3=VECTOR('',#2,-IND);", ['INF);', 'IND);']],
    ["#1=CARTESIAN_POINT('',(1.E-300,2.E+30,3.E99,1.E099));", []],
    ["#1=NAN_BREAD('EN 100',#2);#2=PLANE100('',#3);", []],
  ])('%s', (text, found) => expect(places(text)).toEqual(found));

  it('are the same however they are looked for, wherever they stand', () => {
    const pieces = [
      '1.E308',
      'NAN',
      '-inf',
      ',',
      '(',
      "'",
      'E+200',
      '.',
      '3',
      'IND',
      'x',
      '#12',
      '2.5E+101',
      ' ',
    ];
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...pieces), { maxLength: 60 }),
        fc.integer({ min: 20, max: 90 }),
        (all, piece) => {
          const bytes = bytesOf(all.join(''));
          const fast = unboundedPlaces(bytes);
          expect(unboundedPlacesSlowly(bytes)).toEqual(fast);
          expect(unboundedPlacesSlowly(bytes, piece)).toEqual(fast);
        },
      ),
    );
  });
});
