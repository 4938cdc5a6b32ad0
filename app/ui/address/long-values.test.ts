import { beforeEach, describe, expect, it, vi } from 'vitest';
import { fromAddress, inAddress, lookUp } from './long-values';

const sent: { url: string; body?: { key: string; value: string } }[] = [];
beforeEach(() => {
  vi.stubGlobal('window', {});
  sent.length = 0;
  vi.stubGlobal('fetch', async (url: string, init?: RequestInit) => {
    sent.push({ url, body: init?.body ? JSON.parse(String(init.body)) : undefined });
    return Response.json({ value: 'from the server' });
  });
});

describe('a value in an address', () => {
  it('stands there itself while it is short', () => {
    expect(inAddress('p', 'mirror/mirror.stp')).toBe('mirror/mirror.stp');
    expect(fromAddress('mirror/mirror.stp')).toBe('mirror/mirror.stp');
    expect(sent).toEqual([]);
  });

  it('goes by a short key when it is long, is sent once, and the same value has the same key', () => {
    const long = JSON.stringify(Array.from({ length: 500 }, (_, n) => `folder/part-${n}.stp`));
    const key = inAddress('p', long);
    expect(key.length).toBeLessThan(40);
    expect(inAddress('p', long)).toBe(key);
    expect(inAddress('p', `${long} `)).not.toBe(key);
    expect(fromAddress(key)).toBe(long);
    expect(sent.filter(({ body }) => body?.key === key)).toEqual([
      { url: '/projects/p/kept', body: { key, value: long } },
    ]);
  });

  it('is not taken for a key when it only looks like one', () => {
    const key = inAddress('p', '~x');
    expect(key).not.toBe('~x');
    expect(fromAddress(key)).toBe('~x');
  });

  it('is asked for where the browser does not know the key', async () => {
    expect(fromAddress('~unheard')).toBeUndefined();
    expect(await lookUp('p', '~unheard', () => true)).toBe(true);
    expect(fromAddress('~unheard')).toBe('from the server');
  });
});
