import type { NamedContent } from './change-set';

/** A file that arrived from outside, with the path that it shall have. */
export interface ReceivedFile extends NamedContent {
  read(): Promise<Buffer>;
}
