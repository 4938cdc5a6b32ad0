import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './bootstrap.mjs';

/** What is known of a package that ships. */
interface Shipped {
  name: string;
  version: string;
  licence: string;
  text: string;
}

/** Names under which packages put their licences. */
const LICENCE_FILE = /^(licen[cs]e|copying|ofl)([.-].*)?$/i;
const NOTICE_FILE = /^notice([.-].*)?$/i;

interface LockedPackage {
  version?: string;
  dev?: boolean;
  link?: boolean;
  optional?: boolean;
}

/**
 * Writes `public/third-party.txt`: every package that ships to servers or browsers, fonts and the geometry kernel among them, with its licence
 * as it says itself. From the lock file, so nothing is left out.
 */
export function writeThirdParty(): void {
  const { packages } = JSON.parse(readFileSync(path.join(ROOT, 'package-lock.json'), 'utf8')) as {
    packages: { [place: string]: LockedPackage };
  };
  const shipped = Object.entries(packages)
    .filter(([place, { dev, link }]) => place !== '' && !dev && !link)
    .flatMap(([place]) => described(place))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  // One text for all that share it.
  const byText = new Map<string, Shipped[]>();
  for (const entry of shipped) byText.set(entry.text, [...(byText.get(entry.text) ?? []), entry]);
  const lines = [
    '# What others made of this',
    '',
    `Stone Tray ships with ${shipped.length} packages. The geometry kernel (replicad-opencascadejs) is under the LGPL 2.1 with an exception: it is`,
    'loaded as it is, unmodified, and can be replaced by another build of it in `node_modules`. Made by `npm run third-party`.',
    '',
    '| package | version | licence |',
    '| --- | --- | --- |',
    ...shipped.map(({ name, version, licence }) => `| ${name} | ${version} | ${licence} |`),
    '',
    '## Licences',
    '',
  ];
  for (const [text, of] of byText)
    lines.push(`### ${of.map(({ name }) => name).join(', ')}`, '', '```', text, '```', '');
  writeFileSync(path.join(ROOT, 'public/third-party.txt'), `${lines.join('\n').trimEnd()}\n`);
}

function described(place: string): Shipped[] {
  const folder = path.join(ROOT, place);
  const file = path.join(folder, 'package.json');
  // Builds for other systems stand in the lock file, and ship nowhere from here.
  if (!existsSync(file)) return [];
  const { name, version, license } = JSON.parse(readFileSync(file, 'utf8')) as {
    name: string;
    version: string;
    license?: string | { type: string };
  };
  const files = readdirSync(folder);
  const texts = [
    ...files.filter((entry) => LICENCE_FILE.test(entry)),
    ...files.filter((entry) => NOTICE_FILE.test(entry)),
  ].map((entry) => readFileSync(path.join(folder, entry), 'utf8').replaceAll('```', "'''").trim());
  return [
    {
      name,
      version,
      licence: typeof license === 'string' ? license : (license?.type ?? 'see its text'),
      text: texts.join('\n\n') || `It says: ${typeof license === 'string' ? license : 'nothing'}.`,
    },
  ];
}

writeThirdParty();
