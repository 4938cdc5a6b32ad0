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

/** What a module in `routes/` has. */
export interface RouteModule extends Pick<TestedRoute, 'loader' | 'action'> {
  middleware?: MiddlewareFunction[];
  /** The page. */
  default?: React.ComponentType<object>;
}

/**
 * All routes of the application as they are nested, doors included.
 * @param drawn how the page of a route is drawn; left out, pages are not
 */
export async function routeObjects(
  drawn: (module: RouteModule) => Pick<DataRouteObject, 'element'> = () => ({}),
): Promise<{ routes: TestedRoute[]; objects: DataRouteObject[] }> {
  const found: TestedRoute[] = [];
  const made = async (entries: readonly RouteEntry[], above: string): Promise<DataRouteObject[]> =>
    Promise.all(
      entries.map(async (entry): Promise<DataRouteObject> => {
        const module: RouteModule = await import(path.join(import.meta.dirname, '..', entry.file));
        const name = entry.id ?? path.basename(entry.file).replace(/\.tsx?$/, '');
        const address = entry.path === undefined ? above : `${above}/${entry.path}`;
        const { loader, action, middleware } = module;
        found.push({ name, address, loader, action });
        const own = { id: name, path: entry.path, loader, action, middleware, ...drawn(module) };
        if (entry.index) return { ...own, index: true };
        return { ...own, children: await made((entry.children ?? []) as RouteEntry[], address) };
      }),
    );
  const objects = await made(routes, '');
  return { routes: found, objects };
}

/** The same, to be asked one by one; their pages are not drawn. */
export async function testedRoutes(): Promise<{
  routes: TestedRoute[];
  ask: (name: string, request: Request) => Promise<Response>;
}> {
  const { routes: found, objects } = await routeObjects();
  const handler = createStaticHandler(objects);
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
