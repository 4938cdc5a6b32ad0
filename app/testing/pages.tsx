import { MantineProvider } from '@mantine/core';
import { renderToString } from 'react-dom/server';
import {
  createStaticHandler,
  createStaticRouter,
  RouterContextProvider,
  StaticRouterProvider,
  useActionData,
  useLoaderData,
  useMatches,
  useParams,
} from 'react-router';
import { theme } from '../ui/theme';
import { type RouteModule, routeObjects, type TestedRoute } from './routes';

/** A page, with what the framework hands it. */
function PageOfRoute({ page: Page }: { page: React.ComponentType<object> }) {
  const handed = {
    loaderData: useLoaderData(),
    actionData: useActionData(),
    params: useParams(),
    matches: useMatches(),
  };
  return <Page {...handed} />;
}

function drawn({ default: page }: RouteModule) {
  return page ? { element: <PageOfRoute page={page} /> } : {};
}

/** Draws whole pages as the server does, without a browser: what somebody sees before the scripts run. */
export async function drawnPages(): Promise<{
  /** Those that are pages. */
  routes: TestedRoute[];
  /** @returns the page as HTML, or the answer in its place. @throws what the page or its loader throws */
  draw: (request: Request) => Promise<string | Response>;
}> {
  const withPages = new Set<string>();
  const { routes, objects } = await routeObjects(drawn);
  const note = (all: typeof objects) => {
    for (const { id, element, children } of all) {
      if (element) withPages.add(id!);
      note((children ?? []) as typeof objects);
    }
  };
  note(objects);
  const handler = createStaticHandler(objects);
  const draw = async (request: Request): Promise<string | Response> => {
    const answer = await handler.query(request, {
      requestContext: new RouterContextProvider(),
      generateMiddlewareResponse: async (query) => {
        const context = await query(request);
        if (context instanceof Response) return context;
        const [error] = Object.values(context.errors ?? {});
        if (error !== undefined) throw error;
        const html = renderToString(
          <MantineProvider theme={theme}>
            <StaticRouterProvider
              router={createStaticRouter(handler.dataRoutes, context)}
              context={context}
              hydrate={false}
            />
          </MantineProvider>,
        );
        return new Response(html, { headers: { 'Content-Type': 'text/html' } });
      },
    });
    if (!(answer instanceof Response)) throw new Error(`${request.url} was not answered.`);
    const isPage = answer.headers.get('Content-Type') === 'text/html';
    return isPage ? answer.text() : answer;
  };
  return { routes: routes.filter(({ name }) => withPages.has(name)), draw };
}
