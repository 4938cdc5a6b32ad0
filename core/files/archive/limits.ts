/** The limits on everything that comes from outside, in one place. */
export interface InputLimits {
  /** Bytes of one file. */
  fileBytes: number;
  /** Files in one import. */
  files: number;
  /** Bytes of all files of one import, unpacked. */
  totalBytes: number;
  /** Unpacked bytes for each packed byte of one zip entry; text packs about 10 to 1. */
  ratio: number;
}

export const INPUT_LIMITS: InputLimits = {
  fileBytes: 512 * 1024 * 1024,
  files: 20_000,
  totalBytes: 4 * 1024 * 1024 * 1024,
  ratio: 200,
};

/** Entries smaller than this may have any ratio: a short file of blanks is no bomb. */
export const RATIO_FREE_BYTES = 1024 * 1024;

/** Unpacked bytes for each byte of a whole zip, beyond those that any may have. */
export const WHOLE_RATIO = 50;
export const WHOLE_FREE_BYTES = 256 * 1024 * 1024;
