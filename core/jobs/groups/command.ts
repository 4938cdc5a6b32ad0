import { readFileSync } from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import type { CommandForm } from '#core/command/form';
import { outChoices, outFile, writeWhole } from '#core/command/out-file';
import { columns, plural } from '#core/command/words';
import { GroupsChoices, type GroupsFileChoices } from '#core/jobs/groups/choices';
import type { GroupsOutline } from '#core/jobs/groups/plan';
import { hasStructure, newFileName } from '#core/project/formats/endings';
import { Refusal } from '#core/refusal';

const Listed = z.object({ groups: GroupsChoices.shape.groups, joints: GroupsChoices.shape.joints });

/** `groups FILE` lists what is proposed; `--set FILE.json --out FILE` makes them. */
export const GROUPS_FORM: CommandForm<GroupsFileChoices, GroupsOutline> = {
  ownFlags: ['groups', 'joints', 'accept', 'folder', 'pattern'],
  flags: [
    {
      flag: '--set <FILE>',
      words: 'groups and joints, as --json lists them; those that are proposed unless it is said',
    },
    { flag: '--out <FILE>', words: 'the new file, or a folder for it; without it groups are only listed' },
  ],
  choices: ({ set, out }, _, root) => {
    const listed = set === undefined ? {} : readGroups(set);
    if (out === undefined) return { ...listed, accept: false };
    return { ...listed, accept: true, ...outChoices(fileAt(out), root) };
  },
  async apply({ change }, { out }, files) {
    if (out === undefined) return true;
    const { full, isInside } = outFile(fileAt(out), files.root);
    if (isInside) return false;
    for (const written of change.changes)
      if (written.action === 'write' && written.content)
        await writeWhole(path.join(path.dirname(full), path.basename(written.path)), written.content);
    return true;
  },
  tell({ preview: { groups, joints, made, loose }, change, dryRun }, { out }) {
    const json = {
      groups,
      joints,
      loose,
      ...(made &&
        out !== undefined && {
          file: out,
          applied: !dryRun,
          before: made.before,
          after: made.after,
          reopened: made.reopened,
          overlaps: made.overlaps,
        }),
      warnings: change.warnings,
    };
    const lines: string[] = [];
    lines.push(
      ...columns(
        groups.map(({ name, members }, n) => [
          name,
          plural(members.length, 'component'),
          n === 0 ? 'stands still' : '',
        ]),
        [1],
      ),
    );
    lines.push('');
    for (const { name, kind, at, direction } of joints)
      lines.push(`${kind.padEnd(12)}${name}: at ${round(at)} mm along ${round(direction)}`);
    for (const warning of change.warnings) lines.push(`note   ${warning}`);
    if (out !== undefined) lines.push(`${change.summary}${dryRun ? ' (not done: dry run)' : ''}.`);
    return { json, lines };
  },
};

/** The STEP file, where `--out` names a folder. */
function fileAt(out: string): string {
  return hasStructure(out) ? out : path.join(out, newFileName('motion'));
}

function readGroups(file: string): z.infer<typeof Listed> {
  let text: string;
  try {
    text = readFileSync(path.resolve(file), 'utf8');
  } catch {
    throw new Refusal(`${file} cannot be read: is it there, and a file?`);
  }
  try {
    return Listed.parse(JSON.parse(text));
  } catch {
    throw new Refusal(`${file} holds no groups: it is what groups --json prints, with groups and joints.`);
  }
}

function round(values: readonly number[]): string {
  return values.map((value) => Number(value.toFixed(3))).join(' ');
}
