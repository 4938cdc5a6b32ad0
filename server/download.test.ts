import { describe, expect, it } from 'vitest';
import { asDownload } from './download';

describe('a download', () => {
  it('keeps its name in every script, and nothing in a name is a header of its own', () => {
    const named = (name: string) => asDownload(name)['Content-Disposition']!;
    expect(named('worm.stp')).toBe('attachment; filename=worm.stp');
    expect(named("it's (new).stp")).toBe('attachment; filename="it\'s (new).stp"');
    expect(named('Rückwand.stp')).toContain("filename*=UTF-8''R%C3%BCckwand.stp");
    expect(named('歯車.stp')).toContain("filename*=UTF-8''%E6%AD%AF%E8%BB%8A.stp");
    for (const name of ['a"b.stp', 'a\r\nSet-Cookie: x=1.stp', '../../x.stp', 'C:\\x.stp'])
      expect(new Headers(asDownload(name)).get('Set-Cookie'), name).toBeNull();
    expect(named('../../x.stp')).toBe('attachment; filename=x.stp');
  });

  it('is never shown or run', () => {
    const headers = new Headers(asDownload('evil.svg', 'image/svg+xml'));
    expect(headers.get('X-Content-Type-Options')).toBe('nosniff');
    expect(headers.get('Content-Security-Policy')).toMatch(/^sandbox;/);
    expect(headers.get('Content-Disposition')).toMatch(/^attachment;/);
  });
});
