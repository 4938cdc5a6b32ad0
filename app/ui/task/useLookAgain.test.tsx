import { screen } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../../testing/render';
import { useLookAgain } from './useLookAgain';

/** Counts how often it was asked; every answer is another one, and lacks shapes. */
function Asking() {
  const [found, setFound] = useState({ asked: 1 });
  const again = () => setFound(({ asked }) => ({ asked: asked + 1 }));
  const never = { refusal: null, isStale: false, progress: null, isStopped: false, stop: () => {} };
  useLookAgain({ ...never, found, again }, found.asked < 20);
  return <output>{found.asked}</output>;
}

describe('an answer that lacks shapes', () => {
  it('is looked for once more when none are on their way, and not without end where some will never come', async () => {
    renderPage(<Asking />, { context: { shapes: { open: 0, failed: 2, total: 5 } } });
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.getByRole('status').textContent).toBe('2');
  });

  it('is left as it is while they are still being made', async () => {
    renderPage(<Asking />, { context: { shapes: { open: 3, failed: 0, total: 5 } } });
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.getByRole('status').textContent).toBe('1');
  });
});
