import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { bench, table } from '../bench/bench';
import { holds } from '../bench/measure';
import { ROOT } from './bootstrap.mjs';

const DOC = path.join(ROOT, 'docs/bench.md');
const MARKS = ['<!-- results -->', '<!-- end of results -->'] as const;

/** Measures, prints the table and puts it into docs/bench.md. @returns 1 when a goal is missed */
export async function runBench(): Promise<number> {
  const results = await bench();
  console.log(table(results));
  const doc = readFileSync(DOC, 'utf8');
  const [before, after] = [
    doc.slice(0, doc.indexOf(MARKS[0]) + MARKS[0].length),
    doc.slice(doc.indexOf(MARKS[1])),
  ];
  writeFileSync(DOC, `${before}\n${table(results)}\n${after}`);
  return results.every(holds) ? 0 : 1;
}
