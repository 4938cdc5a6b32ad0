import { data } from 'react-router';
import { z } from 'zod';
import { canStartFrom } from '#core/accepts';
import { plainEntry } from '#core/entry';
import { REGISTRY } from '#core/operations';
import { inProject } from '#server/auth/guard';
import { loadProject } from '#server/projects/scan/project-scan';
import { fileToWorkOn } from '#server/views/files/file-to-work-on';
import { requireNamed } from '#server/views/files/named-file';
import { ReportScreen } from '../screens/report/ReportScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import type { Route } from './+types/report';

export const meta: Route.MetaFunction = ({ loaderData, matches }) => {
  const project = matches.find((match) => match?.id === 'routes/project')?.loaderData as
    | { project: { name: string } }
    | undefined;
  return [
    { title: [loaderData?.entry.title, project?.project.name, 'Stone Tray'].filter(Boolean).join(' · ') },
  ];
};

/** The page that any report has which has none of its own: what it can be about, and its other choices. */
export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const { pathname, searchParams } = new URL(request.url);
  const page = pathname
    .split('/')
    .at(-1)!
    .replace(/\.data$/, '');
  const report = REGISTRY.find((entry) => entry.page === page);
  if (report?.kind !== 'report') throw data('There is no such page.', { status: 404 });
  const scanned = await loadProject(db, project.id);
  const { accepts, argument } = report;
  const isOfFile = accepts.what === 'file';
  if (isOfFile) requireNamed(scanned, searchParams.get(accepts.parameter!));
  const files =
    isOfFile || accepts.what === 'files'
      ? [...scanned.files.values()].flatMap((file) =>
          canStartFrom(accepts, [fileToWorkOn(scanned, file)]) ? [file.path] : [],
        )
      : [];
  return { entry: plainEntry(report), argument: argument ?? null, files, choices: otherChoices(report) };
});

/** Choices besides what a report is about, as fields of its page. */
function otherChoices({ choices, argument }: { choices: z.ZodType; argument?: string }) {
  const { properties = {}, required = [] } = z.toJSONSchema(choices, {
    io: 'input',
    unrepresentable: 'any',
  }) as {
    properties?: { [name: string]: { description?: string; type?: string; anyOf?: { type?: string }[] } };
    required?: string[];
  };
  return Object.entries(properties).flatMap(([name, { description = name, type, anyOf = [] }]) =>
    name !== argument && (type === 'string' || anyOf.some((option) => option.type === 'string'))
      ? [{ name, description, isRequired: required.includes(name) }]
      : [],
  );
}

export const shouldRevalidate = revalidateOnNewData;

export default function ReportPage({ loaderData }: Route.ComponentProps) {
  return <ReportScreen key={loaderData.entry.name} {...loaderData} />;
}
