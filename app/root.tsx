import '@mantine/core/styles.css';
import '@mantine/spotlight/styles.css';
import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/jetbrains-mono';
import './ui/tokens.css';
import { ColorSchemeScript, MantineProvider, mantineHtmlProps } from '@mantine/core';
import { useEffect, useMemo } from 'react';
import {
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  type ShouldRevalidateFunctionArgs,
  useRouteLoaderData,
} from 'react-router';
import { forEverybody } from '#server/auth/guard';
import { preferencesOf } from '#server/auth/kept-preferences';
import { USUAL } from '#server/auth/preferences';
import { isAway } from '#server/db/away';
import type { Route } from './+types/root';
import { coloursOf, keptInCookie } from './ui/colours';
import { letGoQuietly } from './ui/connection/let-go';
import { RouteErrorPage } from './ui/frame/ErrorPage';
import { PreferencesContext } from './ui/measures/useMeasures';
import { useNonce } from './ui/nonce';
import { theme } from './ui/theme';

export const links: Route.LinksFunction = () => [
  { rel: 'icon', href: '/favicon.svg', type: 'image/svg+xml' },
];

export const meta: Route.MetaFunction = () => [{ title: 'Stone Tray' }];

export const loader = forEverybody(async (db, { request }: Route.LoaderArgs) => ({
  colours: coloursOf(request.headers.get('Cookie')),
  // While the database is away the page says so, and how numbers are written is no matter.
  preferences: await preferencesOf(db, request).catch((error: unknown) => {
    if (isAway(error)) return USUAL;
    throw error;
  }),
}));

/** A page that is there knows the choices, unless somebody else signs in or they are made anew. */
export const shouldRevalidate = ({ formMethod, formAction }: ShouldRevalidateFunctionArgs) =>
  formMethod !== undefined && /^\/(sign-in|sign-out|session|account)\b/.test(formAction ?? '');

export function Layout({ children }: { children: React.ReactNode }) {
  const nonce = useNonce();
  const { colours = 'auto', preferences = USUAL } = useRouteLoaderData<typeof loader>('root') ?? {};
  const manager = useMemo(() => keptInCookie(colours), [colours]);
  return (
    <html lang="en" {...mantineHtmlProps} data-mantine-color-scheme={colours === 'dark' ? 'dark' : 'light'}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        {/* Nothing is kept there: it only asks the system. */}
        <ColorSchemeScript defaultColorScheme={colours} localStorageKey="stonetray-nothing" nonce={nonce} />
        <Meta />
        <Links />
      </head>
      <body>
        <MantineProvider theme={theme} defaultColorScheme={colours} colorSchemeManager={manager}>
          <PreferencesContext value={preferences}>{children}</PreferencesContext>
        </MantineProvider>
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function App() {
  // Whoever acts on the page by a program, as tests do, sees from when on it answers.
  useEffect(() => {
    document.documentElement.dataset.ready = '1';
    return letGoQuietly();
  }, []);
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return (
    <main>
      <RouteErrorPage
        error={error}
        defect="Something in Stone Tray went wrong. It is our fault, not yours. Reload the page; if it comes back, tell whoever runs this server when it happened and what you did."
      />
    </main>
  );
}
