import { describe, expect, it } from 'vitest';
import { planningOn } from '#core/planning';
import { newContent } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import type { ReceivedFile } from '#core/project/change/received-file';
import { unpackInMemory } from '#core/project/change/unpack';
import { scanContent } from '#core/project/scan/content';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { planImport } from './plan';

const arriving = (path: string, content: Uint8Array): ReceivedFile => ({
  path,
  ...newContent(content),
  read: async () => Buffer.from(content),
});

async function imported(files: MemoryFileSet, received: ReceivedFile[], onConflict = 'replace' as const) {
  const planning = planningOn(await scanFileSet(files), files);
  return planImport(
    {
      ...planning,
      unpacked: async (zip) => unpackInMemory(await zip.read()),
      scansOf: async (contents) =>
        new Map(contents.map((one) => [one.path, scanContent(one.path, one.content!)])),
    },
    { received, onConflict },
  );
}

describe('an import, before anything changes', () => {
  it('names the links that come broken, and those that it mends', async () => {
    const { outline } = await imported(gearUnit(), [
      arriving('parts/lid.stp', writeBoxPart({ id: 'LID' })),
      arriving('more/top.stp', testAssembly('TOP', [{ written: 'nowhere.stp', id: 'N' }])),
    ]);
    expect(outline.links.mended).toMatchObject([{ holder: 'drive/drive.stp', to: 'parts/lid.stp' }]);
    expect(outline.links.broken).toMatchObject([
      { holder: 'more/top.stp', written: 'nowhere.stp', state: 'missing' },
    ]);
  });

  it('names a link that a new version of its holder breaks, but none that was broken before', async () => {
    const drive = testAssembly('DRIVE', [
      { written: '..\\parts\\lid.stp', id: 'LID' },
      { written: '../parts/gone.stp', id: 'GONE' },
    ]);
    const { outline } = await imported(gearUnit(), [arriving('drive/drive.stp', drive)]);
    expect(outline.links).toMatchObject({ mended: [], broken: [{ written: '../parts/gone.stp' }] });
  });

  it('names what cannot be read, and takes it all the same', async () => {
    const { outline, change } = await imported(new MemoryFileSet([]), [
      arriving('half.stp', writeBoxPart({ id: 'H' }).subarray(0, 900)),
      arriving('whole.stp', writeBoxPart({ id: 'W' })),
    ]);
    expect(outline.problems).toEqual([
      { path: 'half.stp', problem: expect.stringMatching(/^Cannot be read\. Line/) },
    ]);
    expect(change.changes.map(({ path }) => path)).toEqual(['half.stp', 'whole.stp']);
    expect(outline.added).toEqual(['half.stp', 'whole.stp']);
  });
});
