import { HandOffOptions, planHandOff } from '#core/handoff/plan';
import { writePackage } from '#core/handoff/write-package';
import { baseName, stemOf } from '#core/links/paths';
import { Refusal } from '#core/refusal';
import { putBlobStream } from '#server/db/blobs';
import { taskKind } from '#server/jobs/tasks';
import { ProjectFileSet } from './project-files';
import { loadProject } from './project-scan';
import { writeLog } from './projects';

/** A package that was written. */
export interface WrittenPackage {
  /** Name of the zip. */
  name: string;
  /** The zip's content. */
  sha256: string;
}

/** Writes a package and keeps the zip for being downloaded. It changes no file of the project. */
export const PACKAGE = taskKind<HandOffOptions, WrittenPackage>({
  role: 'viewer',
  request: HandOffOptions,
  async run({ db, project, user, signal, report, finish }, options) {
    const plan = planHandOff(await loadProject(db, project), options);
    if (plan.broken.length > 0 && !options.allowBroken)
      throw new Refusal(
        `${plan.broken.length} links are broken. Repair them first, or say on the page to go on.`,
      );
    const { zip } = await writePackage(new ProjectFileSet(db, project), plan, {
      now: new Date(),
      signal,
      // Whoever cancels is heard by the signal.
      onFile: (done, total, path) => void report(`Packing ${baseName(path)}`, done, total).catch(() => {}),
    });
    const { sha256 } = await putBlobStream(db, zip, Number.POSITIVE_INFINITY);
    await finish({ name: `${stemOf(plan.rootInside)}.zip`, sha256 }, { blobs: [sha256] });
    await writeLog(
      db,
      project,
      user,
      'package',
      `Packaged ${baseName(plan.root)} with ${plan.files.length} files`,
    );
  },
});
