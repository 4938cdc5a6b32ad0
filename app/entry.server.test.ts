import { UNSAFE_ErrorResponseImpl as ErrorResponse } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { log } from '#server/log';
import { handleError } from './entry.server';

afterEach(() => void vi.restoreAllMocks());

const handled = (error: unknown, request = new Request('http://stone.test/nowhere')) => {
  const logged = vi.spyOn(log, 'error').mockImplementation(() => {});
  logged.mockClear();
  handleError(error, { request, params: {}, context: {} } as never);
  return logged.mock.calls.length;
};

describe('what goes wrong outside of loaders', () => {
  it.each([
    [404, 'No route matches URL "/nowhere"'],
    [405, 'You made a DELETE request to "/nowhere"'],
    [400, 'You made a GET request to "/nowhere" but did not provide a loader'],
  ])('is no defect where it is how somebody asked: %d', (status, words) => {
    expect(handled(new ErrorResponse(status, '', new Error(words), true))).toBe(0);
  });

  it('is a defect where it is ours', () => {
    expect(handled(new Error('x is undefined'))).toBe(1);
    expect(handled(new ErrorResponse(500, '', new Error('x is undefined'), true))).toBe(1);
  });

  it('is nothing where nobody waits for the answer any more', () => {
    const gone = new AbortController();
    gone.abort();
    expect(handled(new Error('aborted'), new Request('http://stone.test/', { signal: gone.signal }))).toBe(0);
  });
});
