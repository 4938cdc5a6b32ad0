import path from 'node:path';
import {
  createStaticHandler,
  type DataRouteObject,
  type LoaderFunction,
  type MiddlewareFunction,
  RouterContextProvider,
} from 'react-router';
import routes from '../routes';

/** What the test knows of a route. */
export interface TestedRoute {
  name: string;
  /** Its whole address, with parameters. */
  address: string;
  loader?: LoaderFunction;
  action?: LoaderFunction;
}

type RouteEntry = (typeof routes)[number];

/** All routes of the application as they are nested, doors included; their pages are not drawn. */
export async function testedRoutes(): Promise<{
  routes: TestedRoute[];
  ask: (name: string, request: Request) => Promise<Response>;
}> {
  const found: TestedRoute[] = [];
  const made = async (entries: readonly RouteEntry[], above: string): Promise<DataRouteObject[]> =>
    Promise.all(
      entries.map(async (entry): Promise<DataRouteObject> => {
        const module = (await import(path.join(import.meta.dirname, '..', entry.file))) as Pick<
          TestedRoute,
          'loader' | 'action'
        > & { middleware?: MiddlewareFunction[] };
        const name = entry.id ?? path.basename(entry.file).replace(/\.tsx?$/, '');
        const address = entry.path === undefined ? above : `${above}/${entry.path}`;
        const { loader, action, middleware } = module;
        found.push({ name, address, loader, action });
        const own = { id: name, path: entry.path, loader, action, middleware };
        if (entry.index) return { ...own, index: true };
        return { ...own, children: await made((entry.children ?? []) as RouteEntry[], address) };
      }),
    );
  const handler = createStaticHandler(await made(routes, ''));
  /** Asks just one route, through the doors before it. */
  const ask = async (name: string, request: Request): Promise<Response> => {
    const answered = (thrown: unknown): Response => {
      if (thrown instanceof Response) return thrown;
      const { status, data } = thrown as { status?: number; data?: unknown };
      if (status === undefined) throw thrown;
      return new Response(String(data), { status });
    };
    try {
      const answer: unknown = await handler.queryRoute(request, {
        routeId: name,
        requestContext: new RouterContextProvider(),
        generateMiddlewareResponse: async (query) => {
          const result: unknown = await query(request).catch(answered);
          return result instanceof Response ? result : Response.json(result ?? null);
        },
      });
      return answer as Response;
    } catch (thrown) {
      return answered(thrown);
    }
  };
  return { routes: found, ask };
}
