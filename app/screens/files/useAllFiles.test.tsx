import { renderHook, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { atOnce } from '#core/steps';
import { type FileRow, type FilesPart, packRowSteps } from '#server/views/packed/packed-rows';
import { useAllFiles } from './useAllFiles';

afterEach(() => void vi.unstubAllGlobals());

const rows = Array.from(
  { length: 25 },
  (_, n): FileRow => ({
    path: `p${n}.stp`,
    product: `P${n}`,
    role: 'part',
    bodies: 1,
    derived: 0,
    unit: 'mm',
    bytes: 100 + n,
    version: 1,
    links: { sound: n % 3, missing: 0, ambiguous: 0, behind: 0, loop: 0 },
    usedBy: 0,
    about: null,
    unused: false,
    hasPicture: false,
    error: null,
    damage: null,
  }),
);
const part = (from: number, most: number, revision = 7): FilesPart => ({
  text: atOnce(packRowSteps(rows.slice(from, from + most))),
  total: rows.length,
  revision,
});

/** Answers with ten files at a time. */
function serve(revision?: number): string[] {
  const asked: string[] = [];
  vi.stubGlobal('fetch', async (address: string) => {
    asked.push(address);
    const from = Number(new URL(address, 'http://stone.test').searchParams.get('from'));
    return Response.json(part(from, 10, revision));
  });
  return asked;
}

describe('the files of a large project', () => {
  it('are there in part at once, and the rest follows', async () => {
    const asked = serve();
    const first = part(0, 5);
    const { result } = renderHook(() => useAllFiles('p', first));
    expect(result.current.files).toHaveLength(5);
    expect(result.current.total).toBe(25);
    await waitFor(() => expect(result.current.files).toEqual(rows));
    expect(asked).toEqual(['/projects/p/file-rows?from=5', '/projects/p/file-rows?from=15']);
  });

  it('are not put together from two states of the project', async () => {
    const asked = serve(8);
    const first = part(0, 5);
    const { result } = renderHook(() => useAllFiles('p', first));
    await waitFor(() => expect(asked).toHaveLength(1));
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(result.current.files).toHaveLength(5);
    expect(asked).toHaveLength(1);
  });

  it('need nothing more where all came with the page', () => {
    const asked = serve();
    const whole = part(0, 25);
    const { result } = renderHook(() => useAllFiles('p', whole));
    expect(result.current.files).toEqual(rows);
    expect(asked).toEqual([]);
  });
});
