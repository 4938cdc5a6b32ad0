import { brokenLinks } from '#core/jobs/repair/plan';
import { clearWinner, type Ranking, rankSteps } from '#core/jobs/repair/rank';
import { type Project, resolveProject, type ScannedFile } from '#core/project/scan/project';
import { atOnce } from '#core/steps';
import { DAMAGES, damagedProject, MANNERS, partSets, seeded } from '#core/testing/damaged-project';
import { compare, type Result } from './measure';

/** So many files of a project are renamed and moved. */
const RENAMED = 500;

/**
 * What ranking the candidates of many broken links costs, against scanning the project.
 * @param scanned a large project; its parts are `pN.stp`
 */
export async function repairing(scanned: Project, scan: () => Promise<Project>): Promise<Result[]> {
  const renamed = new Map<string, string>();
  for (const path of scanned.files.keys())
    if (renamed.size < RENAMED && /\/p\d+\.stp$/.test(path))
      renamed.set(path, path.replace(/^.*\/(p\d+)\.stp$/, 'released/$1_rev-b.stp'));
  const files: ScannedFile[] = [...scanned.files.values()].map((file) => ({
    ...file,
    path: renamed.get(file.path) ?? file.path,
  }));
  const project = resolveProject(files);
  let ranking: Ranking = new Map();
  const ranked = await compare(
    () => {
      ranking = atOnce(rankSteps(project));
    },
    scan,
    3,
    1,
  );
  const links = brokenLinks(project);
  const right = links.filter((link) => {
    const path = clearWinner(ranking.get(link)!, 0.9)?.path;
    return path?.includes(link.written.replace(/^.*\/|\.stp$/g, '_').slice(1));
  });
  return [
    {
      what: 'Candidates of all broken links',
      against: 'scan of the whole project',
      ratio: ranked.ratio,
      goal: { most: 5 },
      note: `${RENAMED} of ${files.length.toLocaleString('en')} files renamed and moved, ${links.length.toLocaleString('en')} broken links, ${right.length.toLocaleString('en')} right at 0.9`,
    },
    ...damages(),
  ];
}

/** What is right of what the files tell, over all sets, manners, damages and shares. */
function damages(): Result[] {
  const counts = { right: 0, there: 0, sure: 0, wrong: 0 };
  for (const set of partSets(77))
    for (const manner of MANNERS)
      for (const damage of DAMAGES)
        for (const share of [0.05, 0.5, 1]) {
          const { files, meant } = damagedProject(set, manner, damage, share, seeded(78));
          const project = resolveProject(files);
          const there = new Set(files.map(({ sha256 }) => sha256));
          const ranking = atOnce(rankSteps(project));
          for (const link of brokenLinks(project)) {
            const want = meant.get(`${link.holder}::${link.written}`)!;
            const winner = (threshold: number) => {
              const path = clearWinner(ranking.get(link) ?? [], threshold)?.path;
              return path === undefined ? undefined : project.files.get(path)!.sha256;
            };
            const sure = winner(0.9);
            if (sure !== undefined) counts[sure === want ? 'sure' : 'wrong']++;
            if (!manner.hasWitness || !there.has(want)) continue;
            counts.there++;
            if (winner(0.6) === want) counts.right++;
          }
        }
  const links = counts.there.toLocaleString('en');
  return [
    {
      what: 'Broken links that are repaired rightly at 0.6',
      against: 'those of which anything in the files tells it',
      ratio: counts.right / counts.there,
      goal: { least: 0.98 },
      note: `${links} broken links of made-up damage`,
    },
    {
      what: 'Broken links that are repaired wrongly at 0.9',
      against: 'those that are repaired at 0.9',
      ratio: counts.wrong / (counts.sure + counts.wrong),
      goal: { most: 0 },
      note: `${(counts.sure + counts.wrong).toLocaleString('en')} repaired`,
    },
  ];
}
