import '@mantine/core/styles.css';
import '@mantine/spotlight/styles.css';
import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/jetbrains-mono';
import './ui/tokens.css';
import { ColorSchemeScript, MantineProvider, mantineHtmlProps } from '@mantine/core';
import { useEffect, useMemo } from 'react';
import { Links, Meta, Outlet, Scripts, ScrollRestoration, useRouteLoaderData } from 'react-router';
import type { Route } from './+types/root';
import { coloursOf, keptInCookie } from './ui/colours';
import { RouteErrorPage } from './ui/frame/ErrorPage';
import { useNonce } from './ui/nonce';
import { theme } from './ui/theme';

export const links: Route.LinksFunction = () => [
  { rel: 'icon', href: '/favicon.svg', type: 'image/svg+xml' },
];

export const meta: Route.MetaFunction = () => [{ title: 'Stone Tray' }];

export const loader = ({ request }: Route.LoaderArgs) => ({
  colours: coloursOf(request.headers.get('Cookie')),
});

/** A page that is there knows the choice. */
export const shouldRevalidate = () => false;

export function Layout({ children }: { children: React.ReactNode }) {
  const nonce = useNonce();
  const colours = useRouteLoaderData<typeof loader>('root')?.colours ?? 'auto';
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
          {children}
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
