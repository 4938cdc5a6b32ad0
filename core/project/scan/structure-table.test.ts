import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { IDENTITY } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { inFileAssembly, multiplied } from '#core/testing/in-file-assembly';
import { gearUnit } from '#core/testing/projects';
import type { Project } from './project';
import { scanFileSet } from './scan';
import { structureTable, type UnfoldingLimits } from './structure-table';

const projectOf = (bytes: Uint8Array) => scanFileSet(new MemoryFileSet([['top.stp', bytes]]));
const ALL = { rows: 10_000, instances: 10_000 };

/** Lists a few rows, then whatever is folded, one row after the other, as somebody does who opens all. */
function openedByHand(project: Project, root: string, grouped: boolean, limits: UnfoldingLimits) {
  const unfold: string[] = [];
  for (;;) {
    const table = structureTable(project, root, grouped, { ...limits, unfold });
    const folded = table.rows.find(({ isFolded }) => isFolded);
    if (!folded) return table;
    unfold.push(folded.key);
  }
}

describe('a structure that is unfolded in parts', () => {
  it('is counted whole, however little of it is listed and drawn', async () => {
    const project = await projectOf(multiplied(10, 10));
    const { rows, instances, undrawn } = structureTable(project, 'top.stp', true, {
      rows: 50,
      instances: 500,
    });
    expect(rows).toHaveLength(12);
    expect(rows.at(-1)).toMatchObject({ product: 'PART', quantity: 10, total: 1e10, depth: 11 });
    expect(instances).toHaveLength(500);
    expect(undrawn).toBe(1e10 - 500);
  });

  it('lists the upper levels first, and what is below a row when it is asked for', async () => {
    const project = await projectOf(multiplied(6, 5, true));
    const limits = { rows: 35, instances: 100 };
    const { rows } = structureTable(project, 'top.stp', true, limits);
    expect(rows).toHaveLength(31);
    expect(Math.max(...rows.map(({ depth }) => depth))).toBe(2);
    const folded = rows.filter(({ isFolded }) => isFolded);
    expect(folded).toHaveLength(25);
    expect(folded[0]).toMatchObject({ children: 5 });
    const opened = structureTable(project, 'top.stp', true, { ...limits, unfold: [folded[7]!.key] });
    const inside = opened.rows.filter(({ key }) => key.startsWith(`${folded[7]!.key}.`));
    expect(inside.length).toBeGreaterThan(4);
    expect(opened.rows.length).toBe(rows.length + inside.length);
  });

  it('lists all rows of one level, even where they are more than fit', async () => {
    const project = await projectOf(multiplied(1, 60));
    const { rows } = structureTable(project, 'top.stp', false, { rows: 10, instances: 10 });
    expect(rows.map(({ isFolded }) => isFolded)).toEqual([false, true]);
    const opened = structureTable(project, 'top.stp', false, { rows: 10, instances: 10, unfold: ['0.0'] });
    expect(opened.rows).toHaveLength(62);
  });

  it('shows on the model what belongs to a folded row as that row', async () => {
    const project = await projectOf(multiplied(3, 4));
    const { rows, instances } = structureTable(project, 'top.stp', false, { rows: 4, instances: 1000 });
    expect(instances).toHaveLength(64);
    expect(new Set(instances.map(({ row }) => rows[row]!.isFolded))).toEqual(new Set([true]));
  });

  it('ends where a circle closes, and goes on beside it', async () => {
    const text = Buffer.from(
      inFileAssembly({
        id: 'TOP',
        parts: [{ id: 'PART', boxes: [{ name: 'body' }] }],
        assemblies: [
          { id: 'RING', places: [['PART', IDENTITY]] },
          {
            id: 'TOP',
            places: [
              ['RING', IDENTITY],
              ['PART', IDENTITY],
            ],
          },
        ],
      }),
    ).toString('latin1');
    // The ring places itself, too.
    const usage = /#\d+=NEXT_ASSEMBLY_USAGE_OCCURRENCE\('RING\.1','[^']*','[^']*',#(\d+),#\d+,\$\);/.exec(
      text,
    )!;
    const circle = `#99999=NEXT_ASSEMBLY_USAGE_OCCURRENCE('RING.2','self','',#${usage[1]},#${usage[1]},$);`;
    const project = await projectOf(Buffer.from(text.replace(usage[0], `${usage[0]}\n${circle}`), 'latin1'));
    const table = structureTable(project, 'top.stp', true, ALL);
    expect(table.rows.map(({ product, depth }) => `${depth} ${product}`)).toEqual([
      '0 TOP',
      '1 RING',
      '2 PART',
      '2 RING',
      '1 PART',
    ]);
    expect(table.instances).toHaveLength(2);
    expect(table.undrawn).toBe(0);
  });

  it('is the same whether it is listed at once or opened by hand', async () => {
    const unit = await scanFileSet(gearUnit());
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 3 }),
        fc.boolean(),
        fc.boolean(),
        fc.integer({ min: 1, max: 30 }),
        async (levels, times, isVaried, grouped, rows) => {
          const project = await projectOf(multiplied(levels, times, isVaried));
          for (const [tree, root] of [
            [project, 'top.stp'],
            [unit, 'unit.stp'],
          ] as const) {
            const whole = structureTable(tree, root, grouped, ALL);
            const opened = openedByHand(tree, root, grouped, { rows, instances: 10_000 });
            expect(opened.rows).toEqual(whole.rows);
            expect(opened.instances).toEqual(whole.instances);
          }
        },
      ),
      { numRuns: 25 },
    );
  });
});
