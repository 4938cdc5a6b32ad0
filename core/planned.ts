import type { Readable } from 'node:stream';
import type { ScenePictures } from './geometry/scene';
import type { ChangeSet } from './project/change/change-set';
import type { ProjectExport } from './project/change/project-export';
import type { Project } from './project/scan/project';

/** What an operation would do. */
export interface Planned<Preview> {
  change: ChangeSet;
  /** What a page or a program wants to know besides. */
  preview: Preview;
  /** Why it cannot be carried out as it is chosen, although there is something to look at. */
  hindrance?: string;
  /** A file that it makes for the person, outside the project. */
  product?: Product;
  /** What it puts into the catalogue. */
  offers?: Offer[];
  /** A project that comes back with its history, into one in which nothing was done yet: in place of the change. */
  restores?: ProjectExport;
}

/** A file that is made for the person who asked. */
export interface Product {
  name: string;
  /** The file of the project that it is of. */
  of?: string;
  /** Makes it. @returns its bytes as a stream, and what it holds, for programs */
  write(): Promise<{ stream: Readable; contents: unknown }>;
}

/** What is offered to whoever has an address: a file of the project, in formats of the catalogue. */
export interface Offer {
  path: string;
  title: string;
  /** Of the content that is offered. */
  sha256: string;
  /** What it was made from, by the versions that were taken. That stays with us. */
  madeFrom: readonly { path: string; sha256: string }[];
  /** How it is offered, so that it can be again. */
  choices: object;
  /** Makes it. */
  write(): Promise<OfferedFiles>;
}

export interface OfferedFiles {
  /** What a page says of it: plain data. */
  facts: object;
  /** PNG. */
  picture: Uint8Array;
  files: { format: string; name: string; content: Uint8Array }[];
}

/** What previews are made for pages with. */
export interface PreviewHome {
  project: Project;
  /** Keeps a picture for the page as long as it needs it. @param gltf binary @returns its address */
  keepPicture(gltf: Uint8Array): Promise<string>;
  pictures(): Promise<ScenePictures>;
}
