import { screen } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { renderPage } from '../testing/render';
import { useKept } from './useKept';

const Name = z.object({ name: z.string() });

function Page({ file = 'a.stp', version = 'v1' }: { file?: string; version?: string }) {
  const { state, setState, isOutdated, forget } = useKept(`test ${file}`, version, Name, () => ({
    name: '',
  }));
  return (
    <>
      <input
        aria-label="Name"
        value={state.name}
        onChange={(event) => {
          const name = event.currentTarget.value;
          setState((before) => ({ ...before, name }));
        }}
      />
      <button type="button" onClick={forget}>
        Done
      </button>
      {isOutdated && <p role="status">Put aside</p>}
    </>
  );
}
const value = () => screen.getByRole<HTMLInputElement>('textbox').value;

describe('what was typed', () => {
  beforeEach(() => sessionStorage.clear());

  it('is there again when the page is, and nowhere else', async () => {
    const first = renderPage(<Page />);
    await first.user.type(screen.getByRole('textbox'), 'Main tube');
    first.unmount();
    const other = renderPage(<Page file="b.stp" />);
    expect(value()).toBe('');
    other.unmount();
    renderPage(<Page />);
    expect(value()).toBe('Main tube');
  });

  it('is put aside, which is said, when the file has another version by now', async () => {
    const first = renderPage(<Page />);
    await first.user.type(screen.getByRole('textbox'), 'Main tube');
    first.unmount();
    renderPage(<Page version="v2" />);
    expect([value(), screen.getByRole('status').textContent]).toEqual(['', 'Put aside']);
  });

  it('is forgotten when it was carried out, and when it cannot be read', async () => {
    const first = renderPage(<Page />);
    await first.user.type(screen.getByRole('textbox'), 'x');
    await first.user.click(screen.getByRole('button', { name: 'Done' }));
    first.unmount();
    const second = renderPage(<Page />);
    expect(value()).toBe('');
    second.unmount();
    sessionStorage.setItem(
      'stonetray kept test a.stp',
      JSON.stringify({ version: 'v1', state: { name: 7 } }),
    );
    renderPage(<Page />);
    expect(value()).toBe('');
  });
});
