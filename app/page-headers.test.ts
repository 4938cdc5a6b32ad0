import { describe, expect, it } from 'vitest';
import { setPageHeaders } from './page-headers';

describe('the headers of a page', () => {
  it('let only the page’s own scripts run, and nobody frame it', () => {
    const headers = new Headers();
    setPageHeaders(headers, 'abc123');
    const policy = new Map(
      headers
        .get('Content-Security-Policy')!
        .split('; ')
        .map((directive) => [directive.split(' ')[0], directive.split(' ').slice(1)] as const),
    );
    expect(policy.get('script-src')).toEqual(["'self'", "'nonce-abc123'", "'wasm-unsafe-eval'"]);
    expect(policy.get('default-src')).toEqual(["'self'"]);
    expect(policy.get('frame-ancestors')).toEqual(["'none'"]);
    expect(policy.get('object-src')).toEqual(["'none'"]);
    // No source of another site, and no script that is written into the page without the nonce.
    const sources = [...policy.values()].flat();
    expect(sources.filter((source) => /https?:|\*/.test(source))).toEqual([]);
    expect(policy.get('script-src')).not.toContain("'unsafe-inline'");
    expect(headers.get('X-Content-Type-Options')).toBe('nosniff');
  });
});
