import { Refusal } from '#core/refusal';

/** Exit codes: what scripts may rely on. */
export const FINE = 0;
export const FINDINGS = 1;
export const UNUSABLE = 2;

/** Input or usage that the command cannot work with; ends with exit code 2 and this message. */
export class UsageError extends Refusal {}
