import { KEY_MARK, keyOfValue } from '#core/long-value';
import { fetchPatiently } from '../connection/connection';
import { post } from '../connection/json-request';
import { addressIn } from './addresses';

/** Servers and what stands before them refuse addresses of some thousand characters: values that are longer go by a key. */
const LONGEST = 600;

/** What keys stand for, as far as this page knows. */
const known = new Map<string, string>();

/** A value as it stands in an address: itself, or a key to it, which the server keeps for whoever is given the address. */
export function inAddress(projectId: string, value: string): string {
  if (value.length <= LONGEST && !isKey(value)) return value;
  const key = keyOfValue(value);
  // While the server draws a page nothing is kept: it is drawn again here.
  if (!known.has(key) && typeof window !== 'undefined') {
    known.set(key, value);
    remember(key, value);
    void post(addressIn(projectId, 'kept'), { key, value }).catch(() => {});
  }
  return key;
}

/** Whether a value stands for another. */
export function isKey(written: string): boolean {
  return written.startsWith(KEY_MARK);
}

/** What stands for a value in an address; undefined for a key that this browser does not know yet. */
export function fromAddress(written: string): string | undefined {
  if (!isKey(written)) return written;
  const value = known.get(written) ?? recall(written);
  if (value !== undefined) known.set(written, value);
  return value;
}

/** Asks the server what a key stands for. @returns whether it is known now */
export async function lookUp(projectId: string, key: string, isWanted: () => boolean): Promise<boolean> {
  const answer = await fetchPatiently(addressIn(projectId, 'kept', { key }), {}, isWanted);
  if (!answer?.ok) return false;
  const { value } = (await answer.json()) as { value: string };
  known.set(key, value);
  return true;
}

/** The tab keeps them over a reload, also before the server has them. */
function remember(key: string, value: string): void {
  try {
    sessionStorage.setItem(`stonetray value ${key}`, value);
  } catch {
    // No room: the server has it.
  }
}

function recall(key: string): string | undefined {
  return globalThis.sessionStorage?.getItem(`stonetray value ${key}`) ?? undefined;
}
