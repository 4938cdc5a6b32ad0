import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { sentFields, sentJson } from './sent';

const Moves = z.object({ moves: z.array(z.object({ from: z.string() })).max(1000) });

function sending(...pieces: string[]): { request: Request; read: () => number } {
  let read = 0;
  const body = new ReadableStream({
    pull(stream) {
      if (read === pieces.length) return stream.close();
      stream.enqueue(new TextEncoder().encode(pieces[read++]));
    },
  });
  const request = new Request('http://stone.test/', { method: 'POST', body, duplex: 'half' } as RequestInit);
  return { request, read: () => read };
}

const statusOf = async (sent: Promise<unknown>): Promise<number> =>
  sent.then(
    () => 200,
    (thrown: { init: { status: number } }) => thrown.init.status,
  );

describe('JSON that is sent', () => {
  it('is read as it is meant, whatever its strings hold', async () => {
    const moves = [{ from: 'a "quoted" [name],{' }, { from: 'back\\slash' }, { from: 'ends in \\' }];
    const text = JSON.stringify({ moves });
    // Cut in two anywhere.
    for (const at of [1, 14, 15, 22, 40, text.length - 3])
      expect(await sentJson(sending(text.slice(0, at), text.slice(at)).request, Moves)).toEqual({ moves });
    const longest = 'x'.repeat(100_000);
    expect(await sentJson(sending(JSON.stringify(longest)).request, z.string(), 200_000)).toBe(longest);
    // No string is looked into.
    const deep = JSON.stringify('[{'.repeat(1000));
    expect(await sentJson(sending(deep).request, z.string())).toBe('[{'.repeat(1000));
  });

  it('is refused while it comes: too long, too deep, too much', async () => {
    const piece = `${'1,'.repeat(5000)}`;
    const long = sending('[', ...Array(1000).fill(piece));
    expect(await statusOf(sentJson(long.request, z.any()))).toBe(413);
    expect(long.read()).toBeLessThan(12);
    const deep = sending(...Array(1000).fill('['.repeat(1000)));
    expect(await statusOf(sentJson(deep.request, z.any(), 10_000_000))).toBe(400);
    expect(deep.read()).toBeLessThan(4);
    const many = sending('[', ...Array(1000).fill('{},'.repeat(5000)));
    expect(await statusOf(sentJson(many.request, z.any(), 100_000_000))).toBe(413);
    expect(many.read()).toBeLessThan(80);
  });

  it('is no defect when it is something else', async () => {
    for (const text of ['', 'name=value', '{"moves":', '{"moves":7}', '{"moves":[{"from":1}]}', '\u0000'])
      expect(await statusOf(sentJson(sending(text).request, Moves)), text).toBe(400);
    expect(await statusOf(sentJson(new Request('http://stone.test/', { method: 'POST' }), Moves))).toBe(400);
    const many = JSON.stringify({ moves: Array(1001).fill({ from: 'a' }) });
    expect(await statusOf(sentJson(sending(many).request, Moves))).toBe(400);
  });
});

it('a form that is none is no defect', async () => {
  const post = (body: string, type: string) =>
    new Request('http://stone.test/', { method: 'POST', body, headers: { 'Content-Type': type } });
  expect(await sentFields(post('a=1', 'application/x-www-form-urlencoded'))).toEqual({ a: '1' });
  for (const [body, type] of [
    ['{"a":1}', 'application/json'],
    ['a=1', 'text/plain'],
    ['nothing', 'multipart/form-data; boundary=x'],
  ] as const)
    expect(await statusOf(sentFields(post(body, type))), type).toBe(400);
});
