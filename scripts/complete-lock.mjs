// Run after `npm install`. npm leaves platform packages that it could not see out of package-lock.json, and `npm ci`
// then refuses the file. This adds an entry for each, which every other platform passes over.
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';

const SYSTEMS = [
  'android',
  'darwin',
  'linux',
  'win32',
  'freebsd',
  'openbsd',
  'netbsd',
  'openharmony',
  'aix',
  'sunos',
];
const PROCESSORS = [
  'arm64',
  'x64',
  'ia32',
  'arm',
  'riscv64',
  's390x',
  'ppc64',
  'loong64',
  'mips64el',
  'wasm32',
];

const file = path.resolve(import.meta.dirname, '../package-lock.json');
const lock = JSON.parse(readFileSync(file, 'utf8'));
for (const [where, pkg] of Object.entries(lock.packages)) {
  for (const [name, range] of Object.entries(pkg.optionalDependencies ?? {})) {
    if (lock.packages[`${where}/node_modules/${name}`] || lock.packages[`node_modules/${name}`]) continue;
    const words = name.split(/[/-]/);
    const named = (known) => known.filter((word) => words.includes(word));
    const [os, cpu] = [named(SYSTEMS), named(PROCESSORS)];
    const libc = /musl/.test(name) ? ['musl'] : os.includes('linux') && /gnu/.test(name) ? ['glibc'] : [];
    lock.packages[`node_modules/${name}`] = {
      version: range.replace(/^[\^~]/, ''),
      ...(cpu.length > 0 && { cpu }),
      ...(pkg.dev && { dev: true }),
      ...(libc.length > 0 && { libc }),
      optional: true,
      ...(os.length > 0 && { os }),
    };
    console.log(`added ${name}`);
  }
}
const sorted = Object.entries(lock.packages).sort(([a], [b]) => (a < b ? -1 : 1));
writeFileSync(file, `${JSON.stringify({ ...lock, packages: Object.fromEntries(sorted) }, null, 2)}\n`);
