import { expect, it } from 'vitest';
import { browserInWords } from './browser-in-words';

it('names a browser as people do, whatever it says of itself', () => {
  const chromium =
    'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0 Safari/537.36';
  expect(browserInWords(chromium)).toBe('Chrome or Chromium on Linux');
  expect(browserInWords('Mozilla/5.0 (Windows NT 10.0; rv:140.0) Gecko/20100101 Firefox/140.0')).toBe(
    'Firefox on Windows',
  );
  expect(browserInWords('curl/8')).toBe('A browser or program');
  expect(browserInWords('')).toBe('A browser or program');
});
