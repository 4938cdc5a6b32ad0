import { fireEvent, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { renderPage } from '../testing/render';
import { useKey } from './useKey';

function Page({ act }: { act: () => void }) {
  useKey('/', act);
  return <input aria-label="Field" />;
}

it('a sign is heard on any layout, but not where somebody types, nor as a part of something else', () => {
  const act = vi.fn();
  renderPage(<Page act={act} />);
  fireEvent.keyDown(document.body, { key: '/' });
  fireEvent.keyDown(document.body, { key: '/', shiftKey: true });
  expect(act).toHaveBeenCalledTimes(2);
  fireEvent.keyDown(document.body, { key: '/', ctrlKey: true });
  fireEvent.keyDown(document.body, { key: '7', shiftKey: true });
  fireEvent.keyDown(screen.getByRole('textbox'), { key: '/' });
  expect(act).toHaveBeenCalledTimes(2);
});
