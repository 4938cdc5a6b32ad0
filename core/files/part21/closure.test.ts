import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { closureOf, closurePositions } from './closure';
import { Copies, copyInstances } from './copy';
import { builderAfter } from './extend';
import { findReferencesFast } from './fast/fast-references';
import { Part21File } from './file';
import { findReferences } from './references';
import { Part21Builder } from './write';

const HEAD =
  "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('a','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('S'));\nENDSEC;\nDATA;\n";
const read = (data: string) =>
  Part21File.read(Buffer.from(`${HEAD}${data}\nENDSEC;\nEND-ISO-10303-21;\n`, 'latin1'));
const build = (builder: Part21Builder) =>
  builder.finish({ name: 'b', timeStamp: '2026-01-01T00:00:00', originatingSystem: '', schema: 'S' });

describe('the closure of instances', () => {
  it('follows references once, also in circles, and never those in strings and comments', () => {
    const file = read("#1=A(#2,'#4');\n#2=B((#3,#1));\n#3=(X()Y(#3/* #4 */));\n#4=C();\n#5=D(#1);");
    expect([...closureOf(file, [1])].sort()).toEqual([1, 2, 3]);
    expect([...closureOf(file, [5], new Set([2]))].sort()).toEqual([1, 5]);
    expect([...closureOf(file, [99])]).toEqual([]);
  });

  it('is copied with its text as it stands and its numbers new', () => {
    const file = read(
      "#100=POINT('it''s #7', ( 1.50 ,-2.E-3,3.) ) ;\n#7=LINE(#100,/* #9 */#100,\"0F\",.T.,$,*);",
    );
    const builder = new Part21Builder();
    builder.add('FIRST');
    const copies = copyInstances(file, closurePositions(file, [7]), builder);
    expect([100, 7, 9].map((id) => copies.get(id)?.id)).toEqual([2, 3, undefined]);
    expect(Buffer.from(build(builder)).toString('latin1')).toContain(
      "#2=POINT('it''s #7', ( 1.50 ,-2.E-3,3.) ) ;\n#3=LINE(#2,/* #9 */#2,\"0F\",.T.,$,*);\n",
    );
  });

  it('keeps what every instance says, for any graph of references', () => {
    const graph = fc.array(fc.array(fc.nat(29), { maxLength: 4 }), { minLength: 30, maxLength: 30 });
    fc.assert(
      fc.property(graph, fc.nat(29), (edges, start) => {
        const file = read(
          edges.map((to, n) => `#${n * 37 + 5}=N${n}(${n},(${to.map((m) => `#${m * 37 + 5}`)}));`).join('\n'),
        );
        const ids = closureOf(file, [start * 37 + 5]);
        const builder = new Part21Builder();
        const copies = copyInstances(file, closurePositions(file, ids), builder);
        const copied = Part21File.read(build(builder));
        expect(copied.instanceCount).toBe(ids.size);
        for (const id of ids) {
          const copy = copies.get(id)!.id;
          expect(copied.typeOf(copy)).toBe(file.typeOf(id));
          expect(copied.referencesOf(copy, 1)).toEqual(
            file.referencesOf(id, 1).map((to) => copies.get(to)!.id),
          );
        }
      }),
    );
  });

  it('keeps numbers and text where the numbers shall stay, and nothing that stands between the instances', () => {
    const file = read(
      "#9=A(#4);\n#4=B('x');/* #2 is next */\n#2=C ( #9 ,#9) ;  #30=D();\nENDSEC;\nDATA;\n#31=E(#30);\n#5=F(#2);",
    );
    const builder = builderAfter(file);
    const copies = new Copies(file, 'kept');
    copyInstances(file, closurePositions(file, [5]), builder, copies);
    copyInstances(file, closurePositions(file, [31], copies), builder, copies);
    const added = builder.add('G', copies.get(31)!);
    const text = Buffer.from(build(builder)).toString('latin1');
    expect(text.slice(text.indexOf('DATA;'))).toBe(
      "DATA;\n#9=A(#4);\n#4=B('x');\n#2=C ( #9 ,#9) ;\n#5=F(#2);\n#30=D();\n#31=E(#30);\n#32=G(#31);\nENDSEC;\nEND-ISO-10303-21;\n",
    );
    expect(added.id).toBe(32);
    expect(copies.reserve(7, builder).id).toBe(7);
  });

  it('takes over any closure to the byte', () => {
    const gap = fc.constantFrom('', '\n', '\r\n', '  ', '/* ; #1=X(); */', '\nENDSEC;\nDATA;\n');
    const lines = fc.array(fc.tuple(fc.array(fc.nat(19), { maxLength: 4 }), gap), {
      minLength: 20,
      maxLength: 20,
    });
    fc.assert(
      fc.property(lines, fc.array(fc.nat(19), { minLength: 1, maxLength: 3 }), (edges, starts) => {
        const file = read(
          edges.map(([to, between], n) => `#${n}=N(${to.map((m) => `#${m}`)});${between}`).join(''),
        );
        const builder = builderAfter(file);
        const wanted = closurePositions(file, starts);
        copyInstances(file, wanted, builder, new Copies(file, 'kept'));
        const copied = Part21File.read(build(builder));
        expect(Array.from(copied.index.ids.subarray(0, copied.instanceCount))).toEqual(
          Array.from(wanted, (position) => file.index.ids[position]),
        );
        for (const position of wanted) {
          const id = file.index.ids[position]!;
          expect(copied.instance(id)).toEqual(file.instance(id));
        }
      }),
    );
  });

  it('finds the same references fast and plainly, whatever stands between them', () => {
    const piece = fc.constantFrom(
      '#1',
      '#22',
      '#',
      '#0',
      '#4294967299',
      "'#1'",
      "'it''s #2'",
      '/* #3 */',
      '/',
      ' ',
      ',',
      '(',
      ')',
      'A',
      '1.5',
      '"0F"',
      '\0',
    );
    fc.assert(
      fc.property(fc.array(fc.array(piece, { maxLength: 12 }), { minLength: 1, maxLength: 8 }), (lines) => {
        const file = read(
          lines.map((line, n) => `#${n + 1}=X(${line.join('').replace(/[()]/g, '')});`).join('\n'),
        );
        // Numbers longer than any instance can have are left to the plain one.
        const fast = findReferencesFast(file);
        if (fast) expect(fast).toEqual(findReferences(file));
        else expect(lines.flat().join('')).toContain('#4294967299');
      }),
      { numRuns: 500 },
    );
    const far = read('#1=A(#900000000);\n#900000000=B(#1);');
    expect(findReferencesFast(far)).toBeUndefined();
    expect([...closureOf(far, [1])]).toEqual([1, 900_000_000]);
  });

  it('says where a reference leads to nothing', () => {
    const file = read('#1=A(#2);');
    expect(() => copyInstances(file, closurePositions(file, [1]), new Part21Builder())).toThrow(
      /#2, which is not there/,
    );
  });
});
