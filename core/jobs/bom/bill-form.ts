/** How a bill of materials is laid out: level by level; every component once; every part once. */
export const BILL_FORMS = ['indented', 'flat', 'parts'] as const;
export type BillForm = (typeof BILL_FORMS)[number];
