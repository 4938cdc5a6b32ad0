import { MantineProvider } from '@mantine/core';
import { cleanup, configure, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createMemoryRouter, Outlet, RouterProvider, useSearchParams } from 'react-router';
import { afterEach, expect, vi } from 'vitest';
import { registryEntries } from '#core/operations';
import type { ProjectContext } from '../ui/project/project-context';
import { theme } from '../ui/theme';

afterEach(() => {
  cleanup();
  // What pages keep is no affair of the next test.
  sessionStorage.clear();
  localStorage.clear();
  vi.unstubAllGlobals();
});
configure({
  asyncUtilTimeout: 60_000,
  // The whole page with every failure would bury what failed.
  getElementError: (message) => new Error(message?.split('\n\n')[0]),
});

// Nothing is laid out here, and tables draw only the rows in view: every element is as large as a window.
for (const [name, value] of [
  ['offsetWidth', 1280],
  ['offsetHeight', 800],
  ['clientWidth', 1280],
  ['clientHeight', 800],
] as const)
  Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => value });

Object.defineProperty(document, 'fonts', { configurable: true, value: new EventTarget() });

const CONTEXT: ProjectContext = {
  projectId: 'p',
  revision: 1,
  mayEdit: true,
  shapes: { open: 0, failed: 0, total: 0 },
  sending: { state: { step: 'none' }, send: () => {}, refuse: () => {}, stop: () => {} },
  operations: registryEntries(),
  select: () => {},
};

interface PageOptions {
  /** Address below the project's. */
  path?: string;
  context?: Partial<ProjectContext>;
  /** Answers what is sent to an address of the project: the fields of a form, or JSON. */
  action?: (sent: Record<string, unknown>, path: string) => unknown;
  /** Answers what is asked for from an address of the project. */
  loads?: (url: URL) => unknown;
}

let pages = 0;

/** What a page shows at an address. */
type PageAt = (search: URLSearchParams) => React.ReactElement;

function AtAddress({ page }: { page: PageAt }) {
  const [search] = useSearchParams();
  return page(search);
}

/**
 * Renders a component as a page of a project, with theme and router.
 * @returns what can be done with it, and where its address has gone
 */
export function renderPage(page: React.ReactElement | PageAt, options: PageOptions = {}) {
  const element = typeof page === 'function' ? <AtAddress page={page} /> : page;
  const { path = '/projects/p/page', context, action, loads } = options;
  const { pathname, search } = new URL(path, 'http://localhost');
  const router = createMemoryRouter(
    [
      {
        path: '/',
        element: <Outlet context={{ ...CONTEXT, ...context }} />,
        children: [
          {
            path: '*',
            element,
            ...(loads && {
              loader: ({ request }) => loads(new URL(request.url)) ?? null,
              hydrateFallbackElement: <p>Loading</p>,
            }),
            action: async ({ request }) => {
              const isJson = request.headers.get('Content-Type')?.includes('json');
              const sent = isJson ? await request.json() : Object.fromEntries(await request.formData());
              return action?.(sent, new URL(request.url).pathname) ?? null;
            },
          },
        ],
      },
    ],
    // Each page begins at an address of its own: pages remember what is on its way by the key of the address.
    { initialEntries: [{ pathname, search, key: `page ${++pages}` }] },
  );
  const result = render(
    <MantineProvider theme={theme} env="test">
      <RouterProvider router={router} />
    </MantineProvider>,
  );
  const address = () => router.state.location.pathname + router.state.location.search;
  return { ...result, user: userEvent.setup(), address };
}

/** Presses a button as soon as it is there and can be pressed: a selection finds its way through the address first. */
export async function press(user: ReturnType<typeof userEvent.setup>, name: string): Promise<void> {
  await waitFor(() => expect(screen.getByRole('button', { name })).toHaveProperty('disabled', false));
  await user.click(screen.getByRole('button', { name }));
}

/** Selects a row, and waits until it is. */
export async function selectRow(user: ReturnType<typeof userEvent.setup>, name: RegExp): Promise<void> {
  await user.click(screen.getByRole('row', { name }));
  await waitFor(() => expect(screen.getByRole('row', { name }).getAttribute('aria-selected')).toBe('true'));
}
