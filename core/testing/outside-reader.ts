import { execFileSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/**
 * What an independent reader finds in STEP files: Debian's occt-draw, the geometry kernel's library compiled natively, with
 * readers of its own for structure, names, colours and external files. For tests only: whatever we write must read there
 * as it should.
 */

/** One solid, where the structure puts it. */
export interface OutsideSolid {
  /** mm³. */
  volume: number;
  /** mm. */
  centre: [number, number, number];
}

/** A part as often as the structure places it, with what it shows. */
export interface OutsidePart {
  name: string;
  /** Placings below the free shapes, one for a free shape itself. */
  placed: number;
  /** Names of its placings. */
  occurrences: string[];
  /** Named solids below it; none for a part of one solid. */
  solids: { name: string; colour: string | null }[];
  colour: string | null;
  /** How many of its faces have a colour of their own, by colour. */
  faces: { [colour: string]: number };
}

export interface OutsideView {
  /** Shapes at the top of the document: one for a part or an assembly. */
  free: number;
  fails: number;
  warnings: number;
  messages: string[];
  /** Sorted by volume, then by place. */
  solids: OutsideSolid[];
  parts: OutsidePart[];
}

const PROGRAM = ['/usr/bin/occt-draw-7.6', '/usr/bin/occt-draw'].find((file) => existsSync(file));

/** Whether the reader is on this machine; tests that need it are skipped where it is not. */
export const hasOutsideReader = PROGRAM !== undefined;

/**
 * Has the reader read files of one folder or of several, all in one process.
 * @throws Error when the reader ends before it has looked at every file
 */
export function readOutside(files: readonly string[]): OutsideView[] {
  const work = mkdtempSync(path.join(os.tmpdir(), 'stonetray-outside-'));
  try {
    const script = path.join(work, 'look.tcl');
    const named = files.map((file, n) => {
      const full = path.resolve(file);
      if (!/[\s{}]/.test(full)) return full;
      // The reader does not open names with blanks; such a file is read under another name, without what it refers to.
      const plain = path.join(work, `${n}.stp`);
      copyFileSync(full, plain);
      return plain;
    });
    writeFileSync(script, `${PROCEDURE}${named.map((file) => `look ${file}\n`).join('')}exit\n`);
    const out = execFileSync(PROGRAM!, ['-b', '-f', script], {
      env: environment(work),
      encoding: 'utf8',
      maxBuffer: 2 ** 28,
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    const views = out.split('@FILE').slice(1);
    if (views.length !== files.length)
      throw new Error(`The reader looked at ${views.length} of ${files.length} files: ${out.slice(-300)}`);
    return views.map(viewOf);
  } finally {
    rmSync(work, { recursive: true, force: true });
  }
}

/** Debian ships versioned libraries and no start-up file; the reader's plug-ins ask for names without a version. */
function environment(work: string): NodeJS.ProcessEnv {
  const home = '/usr/share/opencascade';
  const resources = `${home}/resources`;
  for (const folder of readdirSync('/usr/lib').filter((name) => name.includes('-linux-gnu')))
    for (const file of readdirSync(`/usr/lib/${folder}`)) {
      const [, library] = /^(libTK\w+\.so)\.7/.exec(file) ?? [];
      const link = library && path.join(work, library);
      if (link && !existsSync(link)) symlinkSync(`/usr/lib/${folder}/${file}`, link);
    }
  return {
    PATH: process.env.PATH,
    HOME: work,
    LD_LIBRARY_PATH: work,
    CASROOT: home,
    CSF_OCCTResourcePath: resources,
    CSF_DrawPluginDefaults: `${resources}/DrawResources`,
    CSF_PluginDefaults: `${resources}/StdResource`,
    CSF_StandardDefaults: `${resources}/StdResource`,
    CSF_SHMessage: `${resources}/SHMessage`,
    CSF_XSMessage: `${resources}/XSMessage`,
    CSF_STEPDefaults: `${resources}/XSTEPResource`,
  };
}

/** Checks the entities of a file, reads it into a document, and prints what stands there. */
const PROCEDURE = `fconfigure stdout -encoding utf-8
pload MODELING XSDRAW OCAF XDEDRAW
proc look {file} {
  puts "@FILE"
  xload $file
  puts "@CHECK [data c]"
  catch {ReadStep D $file}
  puts "@TRANSFER [tpstat c]"
  puts "@FREE [XGetFreeShapes D]"
  set tree [Xdump D 1]
  puts "@TREE"
  foreach line [split $tree "\\n"] {
    if {[regexp {^Free Shapes} $line]} break
    if {![regexp {(PART|ASSEMBLY|INSTANCE|SOLID|FACE|SHELL|COMPOUND)[^0-9]* (0:[0-9:]+)} $line all kind label]} continue
    set colour ""
    catch {set colour [XGetShapeColor D $label s]}
    puts "$line\\t$colour"
  }
  puts "@PLACED"
  XGetOneShape s D
  compound s whole
  foreach x [explode whole So] { puts "@SOLID [vprops $x]" }
  puts "@END"
  catch {Close D}
}
param read.stepcaf.subshapes.name 1
`;

function viewOf(text: string): OutsideView {
  if (!text.includes('@END')) throw new Error(`The reader broke off: ${text.slice(-300)}`);
  const between = (from: string, to: string) => text.split(from)[1]?.split(to)[0] ?? '';
  const listed = [...between('@CHECK', '@TREE').matchAll(/^\s*(\d+)\s+([WF]):(.*)$/gm)];
  const count = (kind: string) =>
    listed.reduce((sum, [, times, of]) => sum + (of === kind ? Number(times) : 0), 0);
  const free = between('@FREE', '@TREE').trim().split(/\s+/).filter(Boolean);
  const solids = text
    .split('@SOLID')
    .slice(1)
    .map((block): OutsideSolid => {
      const [x, y, z] = [...block.matchAll(/[XYZ] =\s*([-+\d.eE]+)/g)].map(([, value]) => Number(value));
      return { volume: Number(/Mass :\s*([-+\d.eE]+)/.exec(block)![1]), centre: [x!, y!, z!] };
    });
  return {
    free: free.length,
    fails: count('F'),
    warnings: count('W'),
    messages: listed.map(([, times, kind, words]) => `${kind} x${times}: ${words!.trim()}`),
    solids: solids.sort((a, b) => a.volume - b.volume || compare(a.centre, b.centre)),
    parts: partsOf(between('@TREE', '@PLACED'), free),
  };
}

interface Line {
  /** PART, ASSEMBLY or INSTANCE; '' for a shape inside a part. */
  role: string;
  kind: string;
  label: string;
  refers: string | undefined;
  name: string;
  colour: string | null;
}

/** What the reader calls a placing that has no name. */
const NAMELESS = /^=>/;

/** The parts of the printed tree, each with how often it stands below the free shapes. */
function partsOf(tree: string, free: readonly string[]): OutsidePart[] {
  const lines = tree.split('\n').flatMap((line): Line[] => {
    const [, role = '', kind, label, refers, name = ''] =
      /^\s*(?:(PART|ASSEMBLY|INSTANCE) )?(\w+)\s+(0:[\d:]+)\s*(?:\(refers to ([\d:]+)\))?\s*(?:"(.*)")?/.exec(
        line,
      ) ?? [];
    if (!kind || !label) return [];
    const colour = line.slice(line.lastIndexOf('\t') + 1).trim();
    return [{ role, kind, label, refers, name, colour: colour === '' ? null : colour }];
  });
  const parts = new Map<string, OutsidePart>();
  const names = new Map<string, string>();
  /** Parts that are or hold solids; others are points and curves. */
  const isShape = new Set<string>();
  const below = new Map<string, Line[]>();
  let holder = '';
  for (const { role, kind, label, name, colour, ...line } of lines) {
    if (role === 'PART' || role === 'ASSEMBLY') {
      holder = label;
      names.set(label, name);
      below.set(holder, []);
      if (role === 'PART')
        parts.set(label, { name, placed: 0, occurrences: [], solids: [], colour, faces: {} });
      if (role === 'PART' && kind === 'SOLID') isShape.add(label);
    } else if (role === 'INSTANCE') below.get(holder)!.push({ role, kind, label, name, colour, ...line });
    else if (kind === 'SOLID') {
      isShape.add(holder);
      parts.get(holder)?.solids.push({ name, colour });
    } else if (kind === 'FACE' && colour) {
      isShape.add(holder);
      const faces = parts.get(holder)?.faces;
      if (faces) faces[colour] = (faces[colour] ?? 0) + 1;
    }
  }
  // A placing without a name, and what it places, go by the names above them.
  const place = (label: string, occurrence: string, name: string) => {
    const part = parts.get(label);
    if (part) {
      part.placed++;
      part.occurrences.push(occurrence);
      part.name = name;
    }
    for (const { refers, name: own } of part ? [] : (below.get(label) ?? [])) {
      if (!refers) continue;
      if (NAMELESS.test(own)) place(refers, occurrence, name);
      else place(refers, own, names.get(refers) ?? '');
    }
  };
  for (const label of free) place(label, '', names.get(label) ?? '');
  return [...parts].flatMap(([label, part]) => (isShape.has(label) ? [part] : []));
}

function compare(a: readonly number[], b: readonly number[]): number {
  for (let n = 0; n < a.length; n++) if (Math.abs(a[n]! - b[n]!) > 1e-3) return a[n]! - b[n]!;
  return 0;
}
