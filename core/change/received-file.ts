import type { NewContent } from './change-set';

/** A file that arrived from outside, with the path that it shall have. */
export interface ReceivedFile extends NewContent {
  path: string;
  read(): Promise<Buffer>;
}
