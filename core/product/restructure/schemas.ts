import type { Part21File } from '#core/files/part21/file';
import { parameterStart } from '#core/files/part21/one-parameter';
import { type Edit, splice } from '#core/files/part21/splice';
import { encodeString } from '#core/files/part21/strings';

/** Application protocols from the smallest to the largest: what one of them knows, those after it know in the same words, but for its administration. */
const PROTOCOLS = [
  /^CONFIG_CONTROL_DESIGN/i,
  /^AUTOMOTIVE_DESIGN/i,
  /^AP203_CONFIGURATION_CONTROLLED/i,
  /^AP242_MANAGED_MODEL/i,
];
const FIRST_EDITION_OF_203 = 0;

/** Place among the application protocols; -1 for another schema. */
export function protocolOf({ header }: Part21File): number {
  return PROTOCOLS.findIndex((protocol) => protocol.test(header.writtenSchemas[0] ?? ''));
}

/** Entities of AP203's first edition that later protocols have under another name, with the same attributes. */
const APPLIED: { readonly [keyword: string]: string } = {
  CC_DESIGN_APPROVAL: 'APPLIED_APPROVAL_ASSIGNMENT',
  CC_DESIGN_CERTIFICATION: 'APPLIED_CERTIFICATION_ASSIGNMENT',
  CC_DESIGN_CONTRACT: 'APPLIED_CONTRACT_ASSIGNMENT',
  CC_DESIGN_DATE_AND_TIME_ASSIGNMENT: 'APPLIED_DATE_AND_TIME_ASSIGNMENT',
  CC_DESIGN_PERSON_AND_ORGANIZATION_ASSIGNMENT: 'APPLIED_PERSON_AND_ORGANIZATION_ASSIGNMENT',
  CC_DESIGN_SECURITY_CLASSIFICATION: 'APPLIED_SECURITY_CLASSIFICATION_ASSIGNMENT',
  CC_DESIGN_SPECIFICATION_REFERENCE: 'APPLIED_DOCUMENT_REFERENCE',
};

/** The administration of a file of AP203's first edition in the words of later protocols; the same bytes where it has none. */
export function withAdministrationOf(protocol: number, file: Part21File): Uint8Array {
  if (protocol <= FIRST_EDITION_OF_203 || protocolOf(file) !== FIRST_EDITION_OF_203) return file.bytes;
  const edits = Object.entries(APPLIED).flatMap(([keyword, applied]) =>
    file.idsOfType(keyword).map((id): Edit => {
      const { content } = file.contentOf(id)!;
      return { start: content, end: content + keyword.length, content: Buffer.from(applied) };
    }),
  );
  if (edits.length === 0) return file.bytes;
  return splice(
    file.bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}

/** What the header says of the schema becomes what another file's says. */
export function schemaEdit({ bytes }: Part21File, from: Part21File): Edit[] {
  const text = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const keyword = text.indexOf('FILE_SCHEMA');
  const open = text.indexOf('(', keyword);
  const end = text.indexOf(';', keyword);
  const start = parameterStart(bytes, open, end, 0);
  if (keyword < 0 || start < 0) return [];
  const close = text.indexOf(')', start);
  const names = from.header.writtenSchemas.map((name) => `'${encodeString(name)}'`);
  return [{ start, end: close + 1, content: Buffer.from(`(${names.join(',')})`) }];
}
