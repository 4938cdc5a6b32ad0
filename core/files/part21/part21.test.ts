import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Part21Error } from './errors';
import { Part21File } from './file';
import {
  Binary,
  DERIVED,
  type EntityRecord,
  Enumeration,
  type Parameter,
  Real,
  Reference,
  referenceOf,
  referencesOf,
  Typed,
  textOf,
} from './parameters';
import { replaceStrings } from './rewrite';
import { decodeString, encodeString } from './strings';
import { Part21Builder, writeInstance } from './write';

const bytesOf = (text: string) => new Uint8Array(Buffer.from(text, 'latin1'));
const wrap = (data: string) =>
  `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('a.stp','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('CONFIG_CONTROL_DESIGN'));\nENDSEC;\nDATA;\n${data}\nENDSEC;\nEND-ISO-10303-21;\n`;
const read = (data: string) => Part21File.read(bytesOf(wrap(data)));

describe('strings', () => {
  it.each([
    ['plain', 'plain'],
    ["it''s", "it's"],
    ['\\X\\E9t\\X\\E9', 'été'],
    ['\\X2\\00E9007400E9\\X0\\', 'été'],
    ['\\X4\\0001F600\\X0\\', '😀'],
    ['\\S\\i', 'é'],
    ['\\PB\\\\S\\1', 'ą'],
    ['a\\\\b', 'a\\b'],
    ['broken \\X2\\00E', 'broken \\X2\\00E'],
  ])('decodes %s', (written, text) => {
    const bytes = bytesOf(written);
    expect(decodeString(bytes, 0, bytes.length)).toBe(text);
  });

  it('reads raw UTF-8 and raw Latin-1 for what they are', () => {
    const utf8 = new TextEncoder().encode('Gehäuse');
    expect(decodeString(utf8, 0, utf8.length)).toBe('Gehäuse');
    const latin1 = bytesOf('Geh\u00e4use');
    expect(decodeString(latin1, 0, latin1.length)).toBe('Gehäuse');
  });

  it('gives back any text it wrote, in pure ASCII', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (text) => {
        const written = encodeString(text);
        expect(written).toMatch(/^[ -~]*$/);
        const bytes = bytesOf(written);
        expect(decodeString(bytes, 0, bytes.length)).toBe(text);
      }),
    );
  });
});

const { parameter } = fc.letrec<{ parameter: Parameter; list: Parameter[] }>((tie) => ({
  list: fc.array(tie('parameter'), { maxLength: 5 }),
  parameter: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    fc.string({ maxLength: 20 }),
    fc.integer(),
    fc
      .double({ noNaN: true, noDefaultInfinity: true })
      .map((value) => new Real(Object.is(value, -0) ? 0 : value)),
    fc.constant(null),
    fc.constant(DERIVED),
    fc.integer({ min: 1, max: 0xffffffff }).map((id) => new Reference(id)),
    fc.stringMatching(/^[A-Z][A-Z0-9_]{0,8}$/).map((name) => new Enumeration(name)),
    fc.stringMatching(/^[0-3][0-9A-F]{0,8}$/).map((digits) => new Binary(digits)),
    fc
      .tuple(fc.stringMatching(/^[A-Z][A-Z0-9_]{0,8}$/), tie('parameter'))
      .map(([keyword, value]) => new Typed(keyword, value)),
    tie('list'),
  ),
}));
const record: fc.Arbitrary<EntityRecord> = fc.record({
  keyword: fc.stringMatching(/^[A-Z][A-Z0-9_]{0,12}$/),
  parameters: fc.array(parameter, { maxLength: 6 }),
});

describe('reading', () => {
  it('gives back random structures that were written', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(record, { minLength: 1, maxLength: 3 }), { maxLength: 12 }),
        (instances) => {
          const file = read(
            instances
              .map((records, n) => `/* ; #9=X('; */ ${writeInstance(n * 3 + 1, records)}`)
              .join('\r\n'),
          );
          expect(file.instanceCount).toBe(instances.length);
          instances.forEach((records, n) => expect(file.instance(n * 3 + 1)!.records).toEqual(records));
        },
      ),
    );
  });

  it('finds single parameters as a full reading of the record does', () => {
    fc.assert(
      fc.property(
        record,
        fc.nat(7),
        fc.constantFrom('', ' ', '\n', "/* '(,#9 */"),
        (one, position, blank) => {
          const written = writeInstance(1, [one]);
          const data = `${written.slice(0, -2)}${blank}${written.slice(-2)}`;
          const file = read(data);
          const expected = file.parameters(1)?.[position];
          expect(file.stringOf(1, position)?.text).toBe(textOf(expected));
          expect(file.referenceOf(1, position)).toBe(referenceOf(expected));
          expect(file.referencesOf(1, position)).toEqual(referencesOf(expected));
        },
      ),
    );
  });

  it('finds parameters past commas and references in comments and strings, and references in lists within lists', () => {
    const file = read(
      "#1=A(/* one, (#7), two */ 'a,b' /*,*/ , /* #8, */ #2, ((#3, /* #9 */ (#4)), '#10', #5));",
    );
    expect(file.stringOf(1, 0)?.text).toBe('a,b');
    expect(file.referenceOf(1, 1)).toBe(2);
    // Those of the list itself: what stands in lists within it is not theirs.
    expect(file.referencesOf(1, 2)).toEqual([5]);
    expect(file.referencesOf(1, 3)).toEqual([]);
    // One that stands by itself is no list.
    expect(file.referencesOf(1, 1)).toEqual([]);
  });

  it('reads the header, past a byte order mark', () => {
    const file = Part21File.read(Buffer.concat([Uint8Array.of(0xef, 0xbb, 0xbf), bytesOf(wrap(''))]));
    expect(file.header).toMatchObject({ name: 'a.stp', schemas: ['CONFIG_CONTROL_DESIGN'] });
  });

  it('passes over anchors, references and signatures, and reads several data sections', () => {
    const text = wrap("#1=A('x');")
      .replace('DATA;', "ANCHOR;\n<a;b>=#1;\nENDSEC;\nREFERENCE;\n#7=<b.stp#c>;\nENDSEC;\nDATA('one',('S'));")
      .replace('END-ISO', "DATA;\n#2=B(#1);\nENDSEC;\nSIGNATURE;\n'abc;'\n;ENDSEC;\nEND-ISO");
    const file = Part21File.read(bytesOf(text));
    expect(file.idsOfType('A')).toEqual([1]);
    expect(file.entity(2, 'B')).toEqual([new Reference(1)]);
  });

  it('finds records inside complex instances', () => {
    const file = read("#5=( A() B(#1,'x') );#1=A();");
    expect(file.typeOf(5)).toBe('');
    expect(file.entity(5, 'B')).toEqual([new Reference(1), 'x']);
    expect(file.complexIdsWith('B')).toEqual([5]);
    expect(file.idsOfType('A')).toEqual([1]);
  });

  it.each([
    ['', 1, 1, 'empty'],
    ['this is a letter, not a model', 1, 1, 'not a STEP file'],
    [wrap("#1=A('x'").split('\nENDSEC;\nEND')[0]!, 8, 9, 'ends inside instance #1'],
    [wrap("#1=A('x);"), 8, 1, 'never ends'],
    [wrap('#1=A();\n#2 A();'), 9, 4, 'not defined here'],
    [wrap('#=A();'), 8, 1, 'without a usable number'],
    [wrap('#1=;'), 8, 4, 'no entity'],
    [wrap('#1=A();\nnonsense'), 9, 1, "found 'nonsense"],
    [wrap('').replace('END-ISO-10303-21;', ''), 11, 1, 'ends here'],
  ])('says where text is broken: %#', (text, line, column, problem) => {
    try {
      Part21File.read(bytesOf(text)).has(1);
      expect.unreachable();
    } catch (error) {
      expect(error).toBeInstanceOf(Part21Error);
      const { place, message } = error as Part21Error;
      expect(message).toContain(problem);
      expect(place).toEqual({ line, column });
    }
  });

  it('refuses a number defined twice, whether ids are dense or sparse', () => {
    expect(() => read('#1=A();#1=B();').has(1)).toThrow('#1 is defined twice');
    expect(() => read('#4000000000=A();#4000000000=B();').has(1)).toThrow('defined twice');
  });

  it.each([
    '#1=A(1,,2);',
    '#1=A(.T);',
    '#1=A("9");',
    '#1=A(#);',
    '#1=A(1.2.3);',
    '#1=A((1);',
    `#1=A(${'('.repeat(500)}${')'.repeat(500)});`,
  ])('reports a broken parameter: %#', (data) => {
    expect(() => read(data).instance(1)).toThrow(Part21Error);
  });

  it('never hangs or crashes on random damage', () => {
    const good = wrap(
      "#1=PRODUCT('a','b','',(#2));\n#2=( A() B(.T.,$,*,1.5E-3,\"0F\") ); /* c */\n#3=C(IDENTIFIER('x'),((1,2),()));",
    );
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255), fc.constantFrom('put', 'cut', 'insert')), {
          minLength: 1,
          maxLength: 8,
        }),
        (damage) => {
          let bytes = Buffer.from(good, 'latin1');
          for (const [at, byte, how] of damage) {
            if (how === 'put') bytes[at % bytes.length] = byte;
            else if (how === 'cut') bytes = bytes.subarray(0, Math.max(1, at % bytes.length));
            else bytes = Buffer.concat([bytes.subarray(0, at), Buffer.of(byte), bytes.subarray(at)]);
          }
          try {
            const file = Part21File.read(bytes);
            for (const id of file.index.ids) file.instance(id);
          } catch (error) {
            expect(error).toBeInstanceOf(Part21Error);
          }
        },
      ),
      { numRuns: 600 },
    );
  });

  it('gives up at once on a huge file that never closes an instance', () => {
    const huge = Buffer.concat([
      bytesOf(wrap('').split('ENDSEC;\nEND')[0]!),
      Buffer.alloc(200_000_000, '#1=('),
    ]);
    expect(() => Part21File.read(huge)).toThrow('the file ends inside instance #1');
  });
});

describe('rewriting', () => {
  it('changes the named strings and no other byte', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ maxLength: 12 }), { minLength: 1, maxLength: 6 }),
        fc.string({ maxLength: 30 }),
        (names, renamed) => {
          const before = bytesOf(
            wrap(
              names
                .map((name, n) => writeInstance(n + 1, [{ keyword: 'N', parameters: [name, 1] }]))
                .join('\n'),
            ),
          );
          const target = names[0]!;
          const replacements: { start: number; end: number; text: string }[] = [];
          const file = Part21File.read(before);
          for (const id of file.index.ids) {
            file.instance(id, (start, end, text) => {
              if (text === target) replacements.push({ start, end, text: renamed });
            });
          }
          const after = replaceStrings(before, replacements);
          const expected = names.map((name, n) =>
            writeInstance(n + 1, [{ keyword: 'N', parameters: [name === target ? renamed : name, 1] }]),
          );
          expect(Buffer.from(after).equals(bytesOf(wrap(expected.join('\n'))))).toBe(true);
        },
      ),
    );
  });

  it('refuses ranges that are not one string', () => {
    const bytes = bytesOf("A('xyz')");
    expect(() => replaceStrings(bytes, [{ start: 2, end: 5, text: '' }])).toThrow(RangeError);
    expect(() =>
      replaceStrings(bytes, [
        { start: 3, end: 6, text: 'a' },
        { start: 3, end: 6, text: 'b' },
      ]),
    ).toThrow(RangeError);
  });
});

describe('building', () => {
  it('makes a file that reads back', () => {
    const builder = new Part21Builder();
    const point = builder.add('CARTESIAN_POINT', '', [new Real(1), new Real(-2.5e-7), new Real(0)]);
    builder.addComplex({ keyword: 'A', parameters: [] }, { keyword: 'B', parameters: [point] });
    const file = Part21File.read(
      builder.finish({
        name: 'é.stp',
        timeStamp: '2026-01-01T00:00:00',
        originatingSystem: 'test',
        schema: 'AP242',
      }),
    );
    expect(file.header.name).toBe('é.stp');
    expect(file.entity(1, 'CARTESIAN_POINT')![1]).toEqual([new Real(1), new Real(-2.5e-7), new Real(0)]);
    expect(file.complexIdsWith('B')).toEqual([2]);
  });
});
