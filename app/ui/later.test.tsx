import { screen } from '@testing-library/react';
import { Suspense } from 'react';
import { expect, it } from 'vitest';
import { renderPage } from '../testing/render';
import { later } from './later';

it('leaves a page as it is while a part of it cannot be fetched, and tries again', async () => {
  let tries = 0;
  const Part = later(async () => {
    if (++tries === 1) throw new Error('The connection is lost.');
    return ({ text }: { text: string }) => <p>{text}</p>;
  });
  renderPage(
    <>
      <h1>The page</h1>
      <Suspense>
        <Part text="The part" />
      </Suspense>
    </>,
  );
  expect(screen.getByRole('heading', { name: 'The page' })).toBeTruthy();
  expect(await screen.findByText('The part')).toBeTruthy();
  expect(tries).toBe(2);
});
