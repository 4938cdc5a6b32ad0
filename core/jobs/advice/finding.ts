/** What is said of a kind of finding, once for all of them. */
interface KindOfFinding {
  /** A heading: what was found. */
  title: string;
  /** Why it hurts, in one sentence. */
  why: string;
  /** What to do about it, in one sentence. */
  remedy: string;
  /** An operation that does it, from the first of the files or from all of them. */
  operation?: string;
  /** It is a fault, and no matter of taste. */
  isFault?: true;
}

/** Everything that is looked for, the worst first. */
export const FINDINGS = {
  loop: {
    title: 'Files that place each other',
    why: 'Such an assembly has no end: nobody can open all of it.',
    remedy: 'Point one of the links at another file at the Repair desk.',
    isFault: true,
  },
  'wrong-volume': {
    title: 'Solids whose volume is wrong',
    why: 'Their masses, sections and everything that is made of them are wrong, too.',
    remedy: 'Export the part again from the system that made it, as a closed solid.',
    isFault: true,
  },
  'unlike-stated': {
    title: 'Files that state another size than they have',
    why: 'The file says what its volume and area should be, and holds something else: it was damaged or changed on its way.',
    remedy: 'Ask for the file again, or export it again.',
    isFault: true,
  },
  units: {
    title: 'Units that differ in one assembly',
    why: 'Values that somebody reads or types in one file mean something else in the next.',
    remedy:
      'Export the parts in the unit of the assembly. Sizes are right meanwhile: each file is read in its own unit.',
  },
  'on-top': {
    title: 'Parts that lie on top of one another',
    why: 'The bill of materials counts them all, and one of them is a mistake as often as not.',
    remedy: 'Remove the second placing in the system that wrote the assembly.',
    isFault: true,
  },
  'run-into': {
    title: 'Bodies that run into each other',
    why: 'Where two bodies have space in common, more than a fit or a thread explains, they cannot be put together so.',
    remedy: 'Look at both on the stage, and correct the size of one of them or where it is placed.',
    isFault: true,
  },
  'one-id': {
    title: 'One part number for several parts',
    why: 'Whoever orders by the number gets one of them; links may be repaired with the wrong one.',
    remedy: 'Give each part a number of its own, or keep one of the files.',
    operation: 'rename-parts',
    isFault: true,
  },
  luck: {
    title: 'Links that hold by luck',
    why: 'The file is not where the link says; another one of that name would break it, or take its place.',
    remedy: 'Move the file to where the link says, or repair the link: then it says where the file is.',
  },
  case: {
    title: 'Names that differ in case only',
    why: 'On many systems they are one name: one of the files would be lost in a copy.',
    remedy: 'Rename one of them.',
    operation: 'move',
    isFault: true,
  },
  'loose-body': {
    title: 'Bodies in no component',
    why: 'A body at the top of an assembly can carry no joint, no drawing and no line in the bill of materials.',
    remedy: 'Make it a component of the assembly, or split it off into a file.',
    operation: 'make-components',
  },
  'many-bodies': {
    title: 'Many bodies used as one part',
    why: 'They cannot be counted, replaced, drawn or weighed one by one, and the whole file is written anew with each change.',
    remedy: 'Split the bodies into files of their own, if they are parts.',
    operation: 'split',
  },
  'same-shape': {
    title: 'The same shape in several files',
    why: 'A change to one of them is forgotten in the others, and the same part is ordered under two numbers.',
    remedy: 'Keep one of them and point the links of the others at it, at the Repair desk.',
  },
  copied: {
    title: 'Copies of one part inside several files',
    why: 'Each file carries a part of its own under the same number: a change to one does not reach the others.',
    remedy: 'Put the part out of one of them, and let all of them place that file.',
    operation: 'put-out',
  },
  'far-away': {
    title: 'Shapes far from their own origin',
    why: 'They turn about a point that is not on them, are hard to find, and lose digits.',
    remedy: 'Split them with the origin put on the body, or export them about their own origin.',
    operation: 'split',
  },
  heavy: {
    title: 'Assemblies that carry most of the bytes themselves',
    why: 'Everybody who changes one part of it has to write, send and load all of it.',
    remedy: 'Put its components out: they become files of their own.',
    operation: 'put-out',
  },
  unused: {
    title: 'Files that nobody uses',
    why: 'They are searched, repaired and packed with the rest, and mistaken for the ones that are used.',
    remedy: 'Delete them, or attach them to what they belong to.',
    operation: 'remove',
  },
} as const satisfies { readonly [kind: string]: KindOfFinding };

export type FindingKind = keyof typeof FINDINGS;

/** @returns what is said of a kind of finding */
export function kindOfFinding(kind: FindingKind): KindOfFinding {
  return FINDINGS[kind];
}

/** Something that is wrong, or could be better, with how a project is put together. */
export interface Finding {
  kind: FindingKind;
  /** The files that it is about; the one that should be changed first. */
  files: string[];
  /** What of them, where that is not all. */
  about: string;
  /** What it is, in one sentence. */
  words: string;
}
