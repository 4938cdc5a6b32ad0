import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { FolderFileSet } from '#core/project/change/folder/folder';

/** Changes a folder, and says so when it begins: `soak/kills.ts` kills it. */
const [folder, files] = process.argv.slice(2) as [string, string];
const set = await FolderFileSet.openToChange(folder);
const bytes = (text: string) => Buffer.from(text);
process.stdout.write('begins\n');
await set.apply({
  summary: 'Changed everything',
  rewires: [],
  warnings: [],
  changes: [
    ...Array.from({ length: Number(files) }, (_, n) =>
      write(`in/${n}.txt`, sha256(bytes(`old ${n}`)), bytes(`new ${n}`)),
    ),
    { action: 'move', path: 'in/gone.txt', to: 'in/moved.txt', base: sha256(bytes('goes along')) },
  ],
});
process.stdout.write('ended\n');
// Whoever kills it may be late.
await new Promise((resolve) => setTimeout(resolve, 1000));
