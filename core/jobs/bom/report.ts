import { z } from 'zod';
import { columns, plural } from '#core/command/words';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { measuredFiles, NOTHING_MEASURED, notMeasured } from '#core/jobs/measured-files';
import type { Product } from '#core/product/structure';
import { bodyCount } from '#core/project/scan/content';
import { manifestOf } from '#core/project/scan/manifest-of';
import { type Project, placedBelow, resolveProject } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { type LookContext, type ReportTable, report } from '#core/report';
import { atOnce } from '#core/steps';
import { type BillFacts, type BillRow, billSteps } from './bill';
import { BILL_FORMS } from './bill-form';
import { type BillDifference, differencesOf } from './compare-bills';
import { propertiesIn } from './properties-in';

export const BomChoices = z.object({
  file: z.string().min(1).max(4000).describe('the assembly whose parts are listed'),
  form: z
    .enum(BILL_FORMS)
    .default('indented')
    .describe('level by level; every component once; or every part once'),
  with: z
    .string()
    .max(4000)
    .nullable()
    .default(null)
    .describe('compare with an older state: a change by its id, for what was before it, or another folder'),
  masses: z.boolean().default(true).describe('without volumes and masses, which the bodies are measured for'),
});
export type BomChoices = z.infer<typeof BomChoices>;

/** A bill of materials with what it comes to. */
export interface Bill {
  file: string;
  form: BomChoices['form'];
  rows: BillRow[];
  totals: {
    /** Different components that are listed. */
    components: number;
    /** Placings of parts. */
    occurrences: number;
    /** Of everything, kg; null while something of it is not known. */
    mass: number | null;
    /** Parts whose mass is not known. */
    withoutMass: number;
  };
  /** What is not in it, and why, in words. */
  notes: string[];
  /** Files whose bodies are not measured yet. */
  waiting: number;
  /** What differs from an older state; null where none was named. */
  differences: BillDifference[] | null;
}

/** What an assembly is made of, for whoever orders, weighs or builds it. */
export const BOM = report<BomChoices, Bill>({
  name: 'bom',
  title: 'Bill of materials',
  purpose: 'List what an assembly is made of, with quantities, materials and masses.',
  place: 'structure',
  page: 'bill-of-materials',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly', 'part'] },
  choices: BomChoices,
  cost: 'slow',
  argument: 'file',
  look: lookAtBill,
  json: ({ rows, totals, notes, differences }) => ({
    rows: rows.map(({ definition: _, properties, ...row }) => ({
      ...row,
      properties: Object.fromEntries(properties.map(({ name, value, unit }) => [name, inUnit(value, unit)])),
    })),
    totals,
    notes,
    ...(differences && { differences }),
  }),
  words: (bill) => [
    ...columns(
      bill.rows.map((row) => [
        `${'  '.repeat(bill.form === 'indented' ? row.level - 1 : 0)}${row.name}`,
        `${bill.form === 'indented' ? row.quantity : row.total} x`,
        row.id === row.name ? '' : row.id,
        row.isMissing ? `${row.file} (not there)` : row.file,
        row.material ?? '',
        row.mass === null ? '' : `${kilograms(row.mass)} kg`,
        row.use ?? '',
      ]),
      [1, 5],
    ),
    ...bill.notes.map((note) => `note  ${note}`),
    ...(bill.differences ?? []).map(
      ({ difference, name, before, after }) =>
        `${difference.padEnd(8)}  ${name}: ${before ?? 'none'} -> ${after ?? 'none'}`,
    ),
    '',
    inWords(bill),
  ],
  summary: inWords,
  tables: (bill) => [billTable(bill), ...(bill.differences ? [differenceTable(bill.differences)] : [])],
});

async function lookAtBill(
  context: LookContext,
  { file, form, with: older, masses }: BomChoices,
): Promise<Bill> {
  const project = await context.project();
  const scan = project.files.get(file)?.scan;
  if (!scan) throw new Refusal(`There is no file ${file}.`);
  if (scan.error !== null) throw new Refusal(`${file}: ${scan.error}`);
  if (scan.products.length === 0) throw new Refusal(`${file} is of a format that has no product structure.`);
  const notes: string[] = [];
  const { measured, waiting } = masses
    ? await measuredFiles(context, pathsWithBodies(project, file))
    : NOTHING_MEASURED;
  if (waiting > 0)
    notes.push(
      `${notMeasured(waiting)}: volumes and masses of what is in ${waiting === 1 ? 'it' : 'them'} are as the file states them, or missing.`,
    );
  const manifest = await manifestOf(project, ({ path }) => context.files.read(path));
  const facts: BillFacts = {
    volumeOf: (path, product) => (masses ? volumeIn(measured.get(path), product) : null),
    standard: manifest?.standard ?? [],
  };
  const rows = atOnce(billSteps(project, file, form, facts));
  const parts = form === 'parts' ? rows : atOnce(billSteps(project, file, 'parts', facts));
  const missing = parts.filter(({ isMissing }) => isMissing).length;
  if (missing > 0)
    notes.push(
      `${plural(missing, 'file is', 'files are')} not there: nothing is known of what ${missing === 1 ? 'it holds' : 'they hold'}.`,
    );
  const withoutMass = parts.filter(({ mass }) => mass === null).length;
  const own = parts.filter(({ isAssembly }) => !isAssembly);
  return {
    file,
    form,
    rows,
    totals: {
      components: rows.length,
      occurrences: own.reduce((sum, { total }) => sum + total, 0),
      mass: withoutMass > 0 ? null : own.reduce((sum, { totalMass }) => sum + totalMass!, 0),
      withoutMass: masses ? withoutMass : 0,
    },
    notes,
    waiting,
    differences: older === null ? null : await differencesFrom(context, project, file, older),
  };
}

/** Files with bodies that an assembly is made of. */
function pathsWithBodies(project: Project, root: string): string[] {
  return placedBelow(project, [root]).filter((path) => {
    const file = project.files.get(path);
    return file !== undefined && bodyCount(file.scan) > 0;
  });
}

/** Of a product's own bodies as they were measured; as its file states it where one was not. */
function volumeIn(measured: ReadonlyMap<number, MeasuredBody> | undefined, product: Product): number | null {
  let sum = 0;
  for (const { id, kind } of product.bodies) {
    const volume = kind === 'surface' ? 0 : measured?.get(id)?.facts?.volume;
    if (volume === undefined) return product.statedSize?.volume ?? null;
    sum += volume;
  }
  return sum;
}

/** What differs from an older state, every component taken once. */
async function differencesFrom(context: LookContext, project: Project, file: string, older: string) {
  const { files } = await context.moment(older);
  if (!files.has(file)) throw new Refusal(`${file} was not there in that state.`);
  const before = resolveProject(files.values(), { searchFolders: [...project.searchFolders] });
  const facts: BillFacts = { volumeOf: () => null, standard: [] };
  const flat = (of: Project) => atOnce(billSteps(of, file, 'flat', facts));
  return differencesOf(flat(before), flat(project));
}

function inWords({ file, rows, totals, differences }: Bill): string {
  const mass =
    totals.mass !== null
      ? `; ${kilograms(totals.mass)} kg in all`
      : totals.withoutMass > 0
        ? `; ${plural(totals.withoutMass, 'part is', 'parts are')} of no known mass`
        : '';
  const differing =
    differences === null ? '' : ` ${plural(differences.length, 'difference')} from the older state.`;
  if (rows.length === 0) return `${file} places nothing.${differing}`;
  return `${plural(totals.components, 'line')}, ${plural(totals.occurrences, 'placing')} of parts${mass}.${differing}`;
}

/** A bill as a table: each property that a file states is a column. */
export function billTable({ form, rows }: Pick<Bill, 'form' | 'rows'>): ReportTable {
  const properties = propertiesIn(rows);
  return {
    title: 'Bill of materials',
    columns: [
      ...(form === 'indented' ? [{ title: 'Level', kind: 'number' } as const] : []),
      { title: 'Part number' },
      { title: 'Name' },
      ...(form === 'indented' ? [{ title: 'Quantity', kind: 'number' } as const] : []),
      { title: 'In all', kind: 'number' },
      { title: 'Material', kind: 'short' },
      { title: 'Mass of one (kg)', kind: 'number' },
      { title: 'Mass in all (kg)', kind: 'number' },
      { title: 'Volume of one (mm³)', kind: 'number' },
      { title: 'Made or bought', kind: 'short' },
      { title: 'File', kind: 'path' },
      ...properties.map((title) => ({ title })),
    ],
    rows: rows.map((row) => [
      ...(form === 'indented' ? [row.level] : []),
      row.id,
      row.name,
      ...(form === 'indented' ? [row.quantity] : []),
      row.total,
      row.material,
      rounded(row.mass, 6),
      rounded(row.totalMass, 6),
      rounded(row.volume, 3),
      row.use,
      row.file,
      ...properties.map((name) => {
        const property = row.properties.find((one) => one.name === name);
        return property ? inUnit(property.value, property.unit) : null;
      }),
    ]),
  };
}

function differenceTable(differences: readonly BillDifference[]): ReportTable {
  return {
    title: 'Differences',
    columns: [
      { title: 'Difference', kind: 'short' },
      { title: 'Part number' },
      { title: 'Name' },
      { title: 'Before', kind: 'short' },
      { title: 'Now', kind: 'short' },
      { title: 'File', kind: 'path' },
    ],
    rows: differences.map(({ difference, id, name, before, after, file }) => [
      difference,
      id,
      name,
      before,
      after,
      file,
    ]),
  };
}

function inUnit(value: string | number, unit: string | undefined): string | number {
  return unit === undefined ? value : `${value} ${unit}`;
}

function rounded(value: number | null, digits: number): number | null {
  return value === null ? null : Number(value.toFixed(digits));
}

function kilograms(value: number): string {
  return value.toLocaleString('en', { maximumSignificantDigits: 4 });
}
