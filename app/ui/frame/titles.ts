/** A route on the way to a page, as far as its title needs it. */
interface Match {
  id: string;
  loaderData?: unknown;
}

/** The title of a page in a project: the page, the project, the application. For `meta` of a route. */
export function titled(page: string) {
  return ({ matches }: { matches: readonly (Match | undefined)[] }) => {
    const frame = matches.find((match) => match?.id === 'routes/project')?.loaderData;
    const name = (frame as { project?: { name: string } } | undefined)?.project?.name;
    return [{ title: [page, name, 'Stone Tray'].filter(Boolean).join(' · ') }];
  };
}
