import { z } from 'zod';
import { plural } from '#core/command/words';
import { openPackage, type PackageProblem } from '#core/jobs/handoff/open-package';
import { report } from '#core/report';

export const VerifyChoices = z.object({
  package: z.string().min(1).max(4000).describe('the package'),
});
export type VerifyChoices = z.infer<typeof VerifyChoices>;

interface Verified {
  ok: boolean;
  /** Of the bag's folder. */
  name: string;
  files: number;
  links: number;
  problems: PackageProblem[];
}

/** Checks a package: its checksums, its manifest, its links. */
export const VERIFY = report<VerifyChoices, Verified>({
  name: 'verify',
  title: 'Check a package',
  purpose: 'Check a package.',
  place: 'give',
  page: 'check-package',
  accepts: { what: 'received', parameter: 'package', isUnlisted: true },
  choices: VerifyChoices,
  cost: 'slow',
  argument: 'package',
  isOfOneFile: true,
  async look({ unpacked }, { package: name }) {
    const { problems, name: bag, payload, project } = await openPackage(await unpacked(name));
    return {
      ok: problems.length === 0,
      name: bag,
      files: payload.size,
      links: project.links.length,
      problems,
    };
  },
  words: ({ ok, name, files, links, problems }) => [
    ...problems.map(({ path, problem }) => `${path}: ${problem}`),
    ok
      ? `${name} is whole: ${plural(files, 'file')}, ${plural(links, 'link')}, every checksum right, every link sound.`
      : `${name}: ${plural(problems.length, 'problem')}.`,
  ],
  tables: ({ problems }) => [
    {
      title: 'Problems',
      columns: [{ title: 'Where' }, { title: 'What is wrong' }],
      rows: problems.map(({ path, problem }) => [path, problem]),
    },
  ],
  hasFindings: ({ ok }) => !ok,
});
