import { expect, it } from 'vitest';
import { seenFrom } from './seen-from';

it.each([
  [[0, -1, 0], 'Seen from the front'],
  [[0, 0, 1], 'Seen from above'],
  [[0.05, -0.02, -1], 'Seen from below'],
  [[-3, 0.1, 0], 'Seen from the left'],
  [[0.82, -1, 0.55], 'Seen from the front, the right and above'],
  [[0, 1, 1.2], 'Seen from above and the back'],
  [[0, 0, 0], ''],
] as const)('%j: %s', (towards, words) => {
  expect(seenFrom(towards)).toBe(words);
});
