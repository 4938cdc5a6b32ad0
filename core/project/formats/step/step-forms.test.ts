import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { mayHoldStepLinks, readStepLinks, scanStepLinks } from './links';
import { rewriteStepLinks } from './rewrite';

const bytesOf = (data: string) =>
  new Uint8Array(
    Buffer.from(
      `ISO-10303-21;HEADER;FILE_DESCRIPTION((''),'2;1');FILE_NAME('','',(''),(''),'','','');FILE_SCHEMA(('AP214'));ENDSEC;DATA;${data}ENDSEC;END-ISO-10303-21;`,
      'latin1',
    ),
  );
const COMPONENT =
  "#1=PRODUCT('C','C','',());#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('','',#2,$);#4=PRODUCT_DEFINITION_SHAPE('','',#3);#5=DOCUMENT_TYPE('');#6=IDENTIFICATION_ROLE('',$);";
const linksOf = (data: string) => readStepLinks(Part21File.read(bytesOf(COMPONENT + data)));
const rewritten = (data: string, written: string, to = 'new/place/c2.stp') => {
  const bytes = bytesOf(COMPONENT + data);
  return Buffer.from(rewriteStepLinks(bytes, 'top.stp', [{ kind: 'component', written, to }]).bytes)
    .toString('latin1')
    .split('#6=IDENTIFICATION_ROLE')[1]!
    .slice(7);
};

describe('forms of external references', () => {
  it.each([
    [
      'a source that is blank',
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER(' '));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'c.stp',
    ],
    [
      'a source that is a folder',
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER('parts/'));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'parts/c.stp',
    ],
    [
      'a folder without a separator at its end',
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER('parts'));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'parts/c.stp',
    ],
    [
      'a folder of another system',
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER('D:\\\\work\\\\'));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'D:\\work\\c.stp',
    ],
    [
      'a name in the document’s name only',
      "#10=DOCUMENT_FILE('4711','c.stp','',#5,'',$);#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'c.stp',
    ],
    [
      'a reference to the shape',
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#4));",
      'c.stp',
    ],
    [
      'a reference to the formation',
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#2));",
      'c.stp',
    ],
    [
      'a complex instance',
      "#10=(CHARACTERIZED_OBJECT('',$)DOCUMENT('c.stp','','',#5)DOCUMENT_FILE('c.stp','','',#5,'',$));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'c.stp',
    ],
    [
      'blanks and comments between everything',
      "#10 = DOCUMENT_FILE /* x */ ( 'c.stp' , '' , '' , #5 , '' , $ ) ; #13 = APPLIED_DOCUMENT_REFERENCE ( #10 , '' , ( #3 ) ) ;",
      'c.stp',
    ],
    [
      'letters beyond ASCII',
      "#10=DOCUMENT_FILE('Geh\\X2\\00E4\\X0\\use.stp','','',#5,'',$);#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));",
      'Gehäuse.stp',
    ],
  ])('%s', (_, data, written) => {
    expect(linksOf(data).map((link) => [link.kind, link.written, link.definitions])).toEqual([
      ['component', written, [3]],
    ]);
  });

  it('a document that nothing refers to is an attachment, one without any name is none', () => {
    expect(linksOf("#10=DOCUMENT_FILE('notes.stp','','',#5,'',$);")).toMatchObject([
      { kind: 'attachment', written: 'notes.stp' },
    ]);
    expect(
      linksOf(
        "#10=DOCUMENT_FILE('','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT(' ',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER(''));",
      ),
    ).toEqual([]);
  });

  it('are not even looked for in a file that cannot have any', () => {
    const plain = bytesOf(COMPONENT);
    expect(mayHoldStepLinks(plain)).toBe(false);
    expect(scanStepLinks(plain)).toEqual([]);
    expect(scanStepLinks(bytesOf(`${COMPONENT}#10=DOCUMENT_FILE('c.stp','','',#5,'',$);`))).toHaveLength(1);
  });
});

describe('rewriting', () => {
  it('changes every place of the name and keeps what is blank blank', () => {
    const data =
      "#10=DOCUMENT_FILE('c.stp','c.stp','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER(' '));#13=APPLIED_DOCUMENT_REFERENCE(#10,'c.stp',(#3));";
    expect(rewritten(data, 'c.stp')).toContain(
      "#10=DOCUMENT_FILE('new/place/c2.stp','new/place/c2.stp','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('new/place/c2.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER(' '));#13=APPLIED_DOCUMENT_REFERENCE(#10,'c.stp',(#3));",
    );
  });

  it('writes folder and name apart where they were apart', () => {
    const data =
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER('parts/'));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));";
    const text = rewritten(data, 'parts/c.stp');
    expect(text).toContain("DOCUMENT_FILE('c2.stp'");
    expect(text).toContain("EXTERNAL_SOURCE(IDENTIFIER('new/place/'))");
    expect(rewritten(data, 'parts/c.stp', 'c2.stp')).toContain("EXTERNAL_SOURCE(IDENTIFIER('./'))");
  });

  it('keeps a bare id beside a path bare', () => {
    const data =
      "#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#11=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('parts/c.stp',#6,#12,(#10));#12=EXTERNAL_SOURCE(IDENTIFIER(''));#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));";
    const text = rewritten(data, 'parts/c.stp');
    expect(text).toContain("DOCUMENT_FILE('c2.stp'");
    expect(text).toContain("ASSIGNMENT('new/place/c2.stp'");
  });

  it('writes names of every script as ASCII that reads back', () => {
    const bytes = bytesOf(
      `${COMPONENT}#10=DOCUMENT_FILE('c.stp','','',#5,'',$);#13=APPLIED_DOCUMENT_REFERENCE(#10,'',(#3));`,
    );
    const after = rewriteStepLinks(bytes, 'top.stp', [
      { kind: 'component', written: 'c.stp', to: "歯車 'ö' 😀.stp" },
    ]).bytes;
    expect(Buffer.from(after).every((byte) => byte < 0x80)).toBe(true);
    expect(scanStepLinks(after)[0]!.written).toBe("歯車 'ö' 😀.stp");
  });
});
