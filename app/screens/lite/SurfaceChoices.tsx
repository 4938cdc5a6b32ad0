import { Checkbox, Stack } from '@mantine/core';
import { FILL_KINDS, type FillKind } from '#core/geometry/fill/opening-kinds';
import type { LiteChoices } from '#core/jobs/lite/choices';
import type { LitePreview } from '#core/jobs/lite/view';
import { NumberField } from '../../ui/fields/NumberField';
import { count, plural } from '../../ui/format';
import giving from '../giving/giving.module.css';
import { SharpEdgesField } from '../giving/SharpEdgesField';
import classes from './Lite.module.css';
import { FILL_WORDS } from './words';

interface SurfaceChoicesProps {
  choices: LiteChoices;
  onChange: (choices: LiteChoices) => void;
  preview: LitePreview | null;
  disabled: boolean;
}

/** Words for a choice, and how many things it is about. */
function Counted({ words, count: many, of }: { words: string; count: number | undefined; of?: string }) {
  return (
    <>
      {words}
      {many !== undefined && <span className={classes.counted}>{of ? plural(many, of) : count(many)}</span>}
    </>
  );
}

function countOf(preview: LitePreview | null, kind: FillKind): number | undefined {
  return preview?.could.fill.find((one) => one.kind === kind)?.count;
}

/** What of openings is filled. */
export function FillChoices({ choices, onChange, preview, disabled }: SurfaceChoicesProps) {
  const set = (part: Partial<LiteChoices>) => onChange({ ...choices, ...part });
  return (
    <>
      <Checkbox.Group value={choices.fill} onChange={(fill) => set({ fill: fill as FillKind[] })}>
        <Stack gap={10}>
          {FILL_KINDS.map((kind) => (
            <Checkbox
              key={kind}
              value={kind}
              label={<Counted words={FILL_WORDS[kind]} count={countOf(preview, kind)} />}
              disabled={disabled}
            />
          ))}
        </Stack>
      </Checkbox.Group>
      <div className={giving.pair}>
        <NumberField
          label="Largest mouth"
          kind="length"
          least={0.001}
          empty="any size"
          value={choices.fillBelow}
          onChange={(fillBelow) => set({ fillBelow })}
          disabled={disabled}
        />
        <NumberField
          label="Deepest engraving"
          kind="length"
          least={0.001}
          value={choices.engraved}
          onChange={(engraved) => set({ engraved })}
          disabled={disabled || !choices.fill.includes('engraving')}
        />
      </div>
      <Stack gap={10}>
        <Checkbox
          label="Only what cannot be touched from outside"
          checked={choices.fillHidden}
          onChange={(event) => set({ fillHidden: event.currentTarget.checked })}
          disabled={disabled}
        />
        <Checkbox
          label="Cut off what ends inside of other parts"
          checked={choices.cutEnds || choices.outside}
          onChange={(event) => set({ cutEnds: event.currentTarget.checked })}
          disabled={disabled || choices.outside}
        />
      </Stack>
      <p className="muted">Holes in faces that are kept stay.</p>
    </>
  );
}

/** What of surfaces is made coarser. */
export function CoarserChoices({ choices, onChange, preview, disabled }: SurfaceChoicesProps) {
  const set = (part: Partial<LiteChoices>) => onChange({ ...choices, ...part });
  const isCovered = disabled || choices.envelopes !== null;
  return (
    <>
      <Stack gap={10}>
        <Checkbox
          label={
            <Counted words="Plain rings of teeth, threads and fins" count={preview?.could.rings} of="face" />
          }
          checked={choices.roundOut}
          onChange={(event) => set({ roundOut: event.currentTarget.checked })}
          disabled={isCovered}
        />
        <Checkbox
          label={<Counted words="One face of faces in one surface" count={preview?.could.joined} of="face" />}
          checked={choices.joinFaces}
          onChange={(event) => set({ joinFaces: event.currentTarget.checked })}
          disabled={isCovered}
        />
      </Stack>
      <div className={giving.pair}>
        <SharpEdgesField
          value={choices.sharpEdges}
          onChange={(sharpEdges) => set({ sharpEdges })}
          disabled={isCovered}
        />
        <span className={classes.counted}>
          {choices.sharpEdges !== null && preview && plural(preview.could.edges, 'face')}
        </span>
        <NumberField
          label="Or an envelope around each part, off it by no more than"
          kind="length"
          least={0.01}
          empty="none"
          value={choices.envelopes}
          onChange={(envelopes) => set({ envelopes })}
          disabled={disabled}
        />
      </div>
      <p className="muted">
        Gear teeth, threads, knurls and cooling fins all around an axis are filled to the ring that they stand
        in. Faces beside a round or a bevel go on until they meet. Parts with faces that stay keep their
        rings, and what touches such a face.
      </p>
    </>
  );
}
