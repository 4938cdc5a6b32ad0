import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import type { FolderFileSet } from '#core/project/change/folder/folder';

/** A flag of a command, besides those that come from choices. */
export interface Flag {
  /** As the help has it: `--out <FILE>`, `--keep-face <ID...>`. */
  flag: string;
  words: string;
  isRequired?: true;
  /** All that it may be. */
  oneOf?: readonly string[];
  /** What was written, read. @throws Refusal that says what it should be */
  read?(text: string): unknown;
}

/** Flags of a command, as they were given. */
// biome-ignore lint/suspicious/noExplicitAny: each command knows what its flags hold
export type Given = { [flag: string]: any };

/** What a form tells of: an operation that was done, or a dry run of it. */
export interface Told<Preview> extends Planned<Preview> {
  context: PlanContext;
  files: FolderFileSet;
  dryRun: boolean;
  applied: boolean;
}

/** What is printed after an operation, for people and for programs. */
export interface Outcome {
  lines: string[];
  json: unknown;
  /** Something is left to be seen to: the command ends with 1. */
  hasFindings?: boolean;
}

/** What is particular to the command of one operation. It stands beside that operation. */
export interface CommandForm<Choices extends object = object, Preview = unknown> {
  /** What is named first, where it is not the folder or the file that is worked on. */
  argument?: string;
  /** A file of the project can be named in the place of its folder. */
  takesFile?: true;
  /** More arguments behind the folder or the file, as they stand in the help: `<FROM> <TO>`. */
  arguments?: string;
  /** Choices that have flags of their own, or none. */
  ownFlags?: readonly (keyof Choices & string)[];
  flags?: readonly Flag[];
  /** The folder to work in, where it is not the project's around the file. It is made with the first change when it is not there. */
  folder?(given: Given, project: string): string;
  /** What the flags say, as choices. */
  choices?(
    given: Given,
    context: PlanContext,
    root: string,
    more: readonly (string | string[])[],
    argument: string,
  ): Partial<Choices>;
  /** Writes the result elsewhere than into the project. @returns whether it did */
  apply?(planned: Planned<Preview>, given: Given, files: FolderFileSet): Promise<boolean>;
  /** It says itself why something cannot be carried out. */
  tellsHindrance?: boolean;
  tell?(told: Told<Preview>, given: Given): Outcome | Promise<Outcome>;
}
