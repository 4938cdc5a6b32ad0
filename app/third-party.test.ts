import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, it } from 'vitest';

const ROOT = path.join(import.meta.dirname, '..');

it('is said of every package that ships, with its licence: `npm run third-party` writes it', () => {
  const { packages } = JSON.parse(readFileSync(path.join(ROOT, 'package-lock.json'), 'utf8')) as {
    packages: { [place: string]: { version: string; dev?: boolean; optional?: boolean; license?: string } };
  };
  const told = readFileSync(path.join(ROOT, 'public/third-party.txt'), 'utf8');
  const missing = Object.entries(packages).flatMap(([place, { version, dev, optional }]) => {
    // Builds for other systems ship nowhere from here.
    if (place === '' || dev || optional) return [];
    const name = place.slice(place.lastIndexOf('node_modules/') + 'node_modules/'.length);
    return told.includes(`| ${name} | ${version} |`) ? [] : [`${name} ${version}`];
  });
  expect(missing).toEqual([]);
  expect(told).toContain('GNU LESSER GENERAL PUBLIC LICENSE');
  expect(told).toContain('SIL OPEN FONT LICENSE');
});
