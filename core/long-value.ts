import { v5 } from 'uuid';

const NAMESPACE = 'b0ff4bd4-2b68-4b8e-93f1-6a4d51d4b7b5';

/** What keys to long values begin with. */
export const KEY_MARK = '~';

/** The key by which a value goes that is too long for an address: a digest of it, so that nobody can keep another under it. */
export const keyOfValue = (value: string): string => KEY_MARK + v5(value, NAMESPACE);
