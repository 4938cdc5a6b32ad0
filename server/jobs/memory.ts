import { getHeapStatistics } from 'node:v8';

/** Of what this process may have for itself, and bytes that the machine keeps free. */
const MOST_OF_HEAP = 0.85;
const LEAST_FREE = 384 * 1024 * 1024;

/** Whether this process is close to the end of its memory, or of the machine's: whatever takes more would end all that it does. */
export function isShortOfMemory(): boolean {
  const { used_heap_size: used, heap_size_limit: limit } = getHeapStatistics();
  return used > MOST_OF_HEAP * limit || process.availableMemory() < LEAST_FREE;
}
