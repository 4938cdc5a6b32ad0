import { act, screen, waitFor } from '@testing-library/react';
import { useRef, useState } from 'react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../testing/render';
import { useFocusKept } from './useFocusKept';

function Desk() {
  const main = useRef<HTMLElement>(null);
  useFocusKept(main);
  const [left, setLeft] = useState(['lid', 'pin']);
  const [isShut, setShut] = useState(false);
  return (
    <main ref={main} tabIndex={-1}>
      <button type="button">First of the page</button>
      <section>
        <ul>
          {left.map((name) => (
            <li key={name}>
              <button type="button" onClick={() => setLeft(left.filter((other) => other !== name))}>
                Repair {name}
              </button>
            </li>
          ))}
        </ul>
        <button type="button" disabled={isShut} onClick={() => setShut(true)}>
          Shut
        </button>
        <button type="button">After it</button>
      </section>
    </main>
  );
}

const focused = () => document.activeElement?.textContent;

describe('the focus', () => {
  it('goes to what comes next when what had it is gone, and stays near', async () => {
    const { user } = renderPage(<Desk />);
    await user.click(screen.getByRole('button', { name: 'Repair lid' }));
    await waitFor(() => expect(focused()).toBe('Repair pin'));
    await user.keyboard('{Enter}');
    await waitFor(() => expect(focused()).toBe('Shut'));
  });

  it('goes on when what had it cannot be used any more', async () => {
    const { user } = renderPage(<Desk />);
    screen.getByRole('button', { name: 'Shut' }).focus();
    await user.keyboard('{Enter}');
    await waitFor(() => expect(focused()).toBe('Repair lid'));
  });

  it('is left alone when somebody clicks beside everything', async () => {
    const { user } = renderPage(<Desk />);
    await user.click(screen.getByRole('button', { name: 'Repair lid' }));
    await waitFor(() => expect(focused()).toBe('Repair pin'));
    await user.click(document.body);
    expect(document.activeElement).toBe(document.body);
  });
});

function Foot() {
  const main = useRef<HTMLElement>(null);
  useFocusKept(main);
  const [phase, setPhase] = useState<'ready' | 'works' | 'done' | 'next'>('ready');
  return (
    <main ref={main} tabIndex={-1}>
      <div>
        {(phase === 'done' || phase === 'next') && <button type="button">Undo</button>}
        {phase === 'works' ? (
          <button type="button" onClick={() => setPhase('done')}>
            Cancel
          </button>
        ) : (
          <button type="button" data-next disabled={phase === 'done'} onClick={() => setPhase('works')}>
            Repair the link
          </button>
        )}
      </div>
      <button type="button" tabIndex={-1} onClick={() => setPhase('next')}>
        The next plan is there
      </button>
    </main>
  );
}

describe('what is marked as what comes next', () => {
  it('gets the focus as soon as it can be used, if nobody has gone elsewhere meanwhile', async () => {
    const { user } = renderPage(<Foot />);
    const arrive = () => act(() => screen.getByRole('button', { name: 'The next plan is there' }).click());
    screen.getByRole('button', { name: 'Repair the link' }).focus();
    await user.keyboard('{Enter}');
    await waitFor(() => expect(focused()).toBe('Cancel'));
    await user.keyboard('{Enter}');
    await waitFor(() => expect(focused()).toBe('Undo'));
    arrive();
    await waitFor(() => expect(focused()).toBe('Repair the link'));
  });
});
