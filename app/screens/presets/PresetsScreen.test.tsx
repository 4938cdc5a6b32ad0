import { screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { SourcePart } from '#core/geometry/bodies/source-part';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { presetsOf } from '#core/jobs/presets/usual-presets';
import type { Box } from '#core/product/box';
import { MemoryFileSet } from '#core/project/change/memory';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { PresetsScreen } from './PresetsScreen';

/** A block from the origin on, two triangles a face. */
function blockMesh([x, y, z]: readonly [number, number, number]): GeometryOfBody {
  const positions = new Float32Array(24);
  for (let n = 0; n < 8; n++) positions.set([n & 1 ? x : 0, n & 2 ? y : 0, n & 4 ? z : 0], 3 * n);
  const faces = ['0462', '1375', '0154', '2673', '0231', '4576'].map((corners) => [...corners].map(Number));
  const triangles = Uint32Array.from(faces.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!]));
  return {
    positions,
    faceGroups: Uint32Array.from(faces.flatMap((_, n) => [6 * n, 6])),
    levels: [{ triangles, error: 0 }],
    box: [0, 0, 0, x, y, z] as Box,
  };
}

const SIZES = { 'plate.stp': [100, 100, 10], 'pin.stp': [2, 2, 2] } as const;
const OWN = {
  name: 'Small',
  purpose: 'To send by mail.',
  operation: 'lite',
  choices: { smallerThan: 5, pattern: '{name}-small' },
};

async function openPage() {
  const files = new MemoryFileSet([
    [
      'top.stp',
      testAssembly('TOP', [
        { written: 'plate.stp', id: 'PLATE' },
        { written: 'pin.stp', id: 'PIN', times: 3 },
      ]),
    ],
    ['empty.stp', testAssembly('EMPTY', [{ written: 'gone.stp', id: 'GONE' }])],
    ['plate.stp', writeBoxPart({ id: 'PLATE', boxes: [{ name: 'plate', size: [100, 100, 10] }] })],
    ['pin.stp', writeBoxPart({ id: 'PIN', boxes: [{ name: 'pin', size: [2, 2, 2] }] })],
    [MANIFEST_NAME, JSON.stringify({ manifest: 'stonetray-project/1', outside: [], presets: [OWN] })],
  ]);
  const meshes = async (path: string) => {
    const [body] = new SourcePart(path, await files.read(path)).bodies;
    return new Map([[body!.id, blockMesh(SIZES[path as keyof typeof SIZES])]]);
  };
  const operations = operationsStandIn(files, { context: { meshes } });
  vi.stubGlobal('fetch', operations.answer);
  const presets = presetsOf([OWN]).map((preset) => ({
    ...preset,
    makes: 'Lite model',
    page: 'lite',
    does: [{ name: 'smallerThan', meaning: 'leave out what is small', value: '5' }],
  }));
  const listed = (['top.stp', 'empty.stp'] as const).map((path) => ({
    path,
    role: 'assembly' as const,
    bytes: 1000,
  }));
  return { ...renderPage(<PresetsScreen presets={presets} files={listed} />), ...operations, files };
}

describe('the page of presets', () => {
  it('shows what comes of several assemblies by one preset before it makes them', async () => {
    const { user, files, asked } = await openPage();
    expect(screen.getByRole('radio', { name: 'Small' })).toHaveProperty('checked', true);
    const makes = screen.getByRole('button', { name: 'Make them' });
    await user.click(screen.getByRole('row', { name: /top\.stp/ }));
    await user.keyboard('{Control>}');
    await user.click(screen.getByRole('row', { name: /empty\.stp/ }));
    await user.keyboard('{/Control}');
    expect(screen.getByText('2 files chosen')).toBeTruthy();
    // Many assemblies take minutes: nobody is asked before one says so.
    expect([makes, asked.length]).toEqual([expect.objectContaining({ disabled: true }), 0]);
    await press(user, 'Show what comes of it');
    const top = await screen.findByRole('row', { name: /top-small/ });
    expect(within(top).getByText('24 → 6')).toBeTruthy();
    expect(screen.getByRole('row', { name: /empty\.stp/ }).textContent).toContain('has no bodies');
    await press(user, 'Make 1 model');
    expect(await screen.findByText(/^Done: Made top-small\.stp by “Small”\.$/)).toBeTruthy();
    expect((await files.list()).map(({ path }) => path)).toContain('top-small.stp');
  });

  it('takes out what the project keeps, and not what comes with every project', async () => {
    const { user, files } = await openPage();
    await press(user, 'Take it out');
    await vi.waitFor(async () => expect(readManifest(await files.read(MANIFEST_NAME)).presets).toEqual([]));
    const layout = screen.getByRole('radio', { name: 'For layout' });
    await vi.waitFor(() => expect(layout).toHaveProperty('disabled', false));
    await user.click(layout);
    expect(screen.queryByRole('button', { name: 'Take it out' })).toBeNull();
  });
});
