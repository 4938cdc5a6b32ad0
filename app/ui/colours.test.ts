import { describe, expect, it } from 'vitest';
import { coloursOf } from './colours';

describe('light or dark', () => {
  it('is what the cookie says, and what the system says where it says nothing that we know', () => {
    expect(coloursOf('a=b; stonetray-colours=dark')).toBe('dark');
    expect(coloursOf('stonetray-colours=light; a=b')).toBe('light');
    for (const none of [
      null,
      '',
      'stonetray-colours=<script>',
      'xstonetray-colours=dark',
      'stonetray-colours=darker',
    ])
      expect(coloursOf(none)).toBe('auto');
  });
});
