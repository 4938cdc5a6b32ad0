import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { OcctStepFile } from '#core/geometry/shape/occt';
import { IDENTITY, placementFromAxes } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { scanContent } from '#core/project/scan/content';
import { startModelling } from '#core/testing/step-of-shape';
import { writeBodyFile } from './body-file';
import { SourcePart } from './source-part';

const frame = new SourcePart('mirror-frame.stp', readFileSync('demo/files/hx-12/mirror/mirror-frame.stp'));
const plain = {
  id: 'X-1',
  name: 'Strut é',
  fileName: 'strut.stp',
  timeStamp: '2026-01-01T00:00:00',
  use: 'made' as const,
  styles: true,
  origin: IDENTITY,
  source: {
    written: '../mirror-frame.stp',
    relation: 'split' as const,
    sha256: 'ab'.repeat(32),
    bodies: [{ id: 12, name: 'torque tube' }],
  },
};

describe('the file of one body', () => {
  it('has the body alone, with its name and colour, and knows where it came from', () => {
    for (const body of frame.bodies) {
      const bytes = writeBodyFile(frame, [frame.textOf(body)], plain);
      const scan = scanContent('strut.stp', bytes);
      expect(scan.error).toBeNull();
      expect(scan.schema).toBe(frame.file.header.schemas[0]);
      expect(scan.products).toHaveLength(1);
      expect(scan.products[0]).toMatchObject({ id: 'X-1', name: 'Strut é' });
      expect(scan.products[0]!.bodies).toEqual([
        expect.objectContaining({ name: body.name, colour: body.colour }),
      ]);
      expect(scan.links).toEqual([
        expect.objectContaining({
          kind: 'source',
          written: '../mirror-frame.stp',
          source: { relation: 'split', sha256: 'ab'.repeat(32), bodies: plain.source.bodies },
        }),
      ]);
    }
  });

  it('keeps the numbers of the source, but where they leave no room for others', () => {
    const body = frame.bodies[7]!;
    const own = (bytes: Uint8Array) => {
      const file = Part21File.read(bytes);
      return { file, body: readStructure(file).products[0]!.bodies[0]!.id };
    };
    const kept = own(writeBodyFile(frame, [frame.textOf(body)], plain));
    expect(kept.body).toBe(body.id);
    expect(kept.file.instance(body.id)).toEqual(frame.file.instance(body.id));
    const crowded = new SourcePart(
      'crowded.stp',
      Buffer.from(
        Buffer.from(frame.file.bytes)
          .toString('latin1')
          .replace(/\bENDSEC;\s*END-/, "#2147483646=CARTESIAN_POINT('',(0.,0.,0.));\nENDSEC;\nEND-"),
        'latin1',
      ),
    );
    const renumbered = own(writeBodyFile(crowded, [crowded.textOf(body)], plain));
    expect(renumbered.file.highest).toBe(renumbered.file.instanceCount);
    expect(renumbered.file.instanceCount).toBe(kept.file.instanceCount);
  });

  it('is the same shape to the kernel, in the same place; another origin moves the part and not the geometry', async () => {
    const oc = await startModelling();
    const body = frame.bodies[7]!;
    using whole = new OcctStepFile(oc, frame.file.bytes, new Set([body.id]));
    const before = whole.shape(body.id);
    const bytes = writeBodyFile(frame, [frame.textOf(body)], plain);
    const [own] = readStructure(Part21File.read(bytes)).products[0]!.bodies;
    using part = new OcctStepFile(oc, bytes, new Set([own!.id]));
    const after = part.shape(own!.id);
    expect('facts' in before && 'facts' in after && after.facts).toEqual('facts' in before && before.facts);

    const origin = placementFromAxes([10, 20, 30]);
    const moved = writeBodyFile(frame, [frame.textOf(body)], { ...plain, origin });
    const [there] = readStructure(Part21File.read(moved)).products[0]!.bodies;
    expect(there!.placement).toEqual([1, 0, 0, -10, 0, 1, 0, -20, 0, 0, 1, -30, 0, 0, 0, 1]);
  });
});
