/** Exit codes: what scripts may rely on. */
export const FINE = 0;
export const FINDINGS = 1;
/** Input or usage that the command cannot work with. */
export const UNUSABLE = 2;
