import { describe, expect, it } from 'vitest';
import { Part21File } from './file';
import { endOfRun } from './runs';

const TEXT = `ISO-10303-21;
HEADER;
FILE_DESCRIPTION((''),'2;1');
FILE_NAME('','',(''),(''),'','','');
FILE_SCHEMA(('AP242'));
ENDSEC;
DATA('one',('AP242'));
#1=A();
#2=A(); #3=A();
/* of the fourth */
#4=A();
ENDSEC;
DATA('two',('AP242'));
#5=A();
#6=A();
ENDSEC;
END-ISO-10303-21;
`;

describe('instances that stand together', () => {
  const file = Part21File.read(Buffer.from(TEXT, 'latin1'));
  const runFrom = (id: number, isIn: (id: number) => boolean = () => true) =>
    file.index.ids[endOfRun(file, file.position(id)!, (position) => isIn(file.index.ids[position]!))];

  it('end before a comment, and with their section', () => {
    expect([1, 4, 5].map((id) => runFrom(id))).toEqual([3, 4, 6]);
  });

  it('end before one that does not belong to them', () => {
    expect(runFrom(1, (id) => id !== 2)).toBe(1);
    expect(runFrom(1, (id) => id !== 3)).toBe(2);
  });
});
