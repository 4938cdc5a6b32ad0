import { act, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { renderPage } from '../testing/render';
import { announce, Voice } from './voice';

it('says what was done where screen readers hear it, the same twice if it happened twice', () => {
  renderPage(<Voice />);
  const place = screen.getByRole('status');
  act(() => announce('Repaired 1 link.'));
  const once = place.textContent;
  expect(once).toBe('Repaired 1 link.');
  act(() => announce('Repaired 1 link.'));
  expect(place.textContent?.trim()).toBe(once);
  expect(place.textContent).not.toBe(once);
});
