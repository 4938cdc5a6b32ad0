import type { Part21File } from '#core/files/part21/file';
import { removal } from '#core/files/part21/remove';
import type { Edit } from '#core/files/part21/splice';
import { orphansOf, Users, withoutGone } from './references';

/** Instances that leave a file, with all that refers to them and what only they needed. All by positions. */
export class Going {
  readonly users: Users;
  private readonly going = new Set<number>();
  private readonly lists = new Map<number, Edit[]>();
  /** What stays whatever it refers to: it is written anew by who asked. */
  private readonly stays = new Set<number>();

  constructor(private readonly file: Part21File) {
    this.users = new Users(file);
  }

  has(position: number): boolean {
    return this.going.has(position);
  }

  keep(id: number | undefined): void {
    const position = id === undefined ? undefined : this.file.position(id);
    if (position !== undefined) this.stays.add(position);
  }

  /** A list that names what stays, too, in place of what this would make of it. */
  write(position: number, edits: Edit[]): void {
    this.lists.set(position, edits);
  }

  /** An instance goes, and what refers to it; a list that names others too is kept without it. */
  go(id: number | undefined): void {
    const { file, going, lists } = this;
    const start = id === undefined ? undefined : file.position(id);
    if (start === undefined) return;
    const open = [start];
    for (let position = open.pop(); position !== undefined; position = open.pop()) {
      if (going.has(position) || this.stays.has(position)) continue;
      going.add(position);
      for (const user of this.users.of(position)) {
        if (going.has(user) || this.stays.has(user)) continue;
        const edits = withoutGone(file, file.index.ids[user]!, (one) => going.has(file.position(one) ?? -1));
        if (edits) lists.set(user, edits);
        else open.push(user);
      }
    }
  }

  /** An instance goes to which nothing refers any more that stays. */
  goAlone(id: number): void {
    const position = this.file.position(id);
    if (position !== undefined && !this.stays.has(position)) this.going.add(position);
  }

  /** What only they needed goes, too. @param isKept of what something that was added refers to */
  goOrphans(isKept: (position: number) => boolean = () => false): void {
    const stays = (position: number) => this.stays.has(position) || isKept(position);
    for (const position of orphansOf(this.file, this.users, this.going, stays)) this.going.add(position);
  }

  edits(): Edit[] {
    const { going, lists } = this;
    return [
      ...[...lists].flatMap(([position, edits]) => (going.has(position) ? [] : edits)),
      ...[...going].map((position) => removal(this.file, position)),
    ];
  }
}
