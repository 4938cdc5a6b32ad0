import { useEffect, useState } from 'react';
import type { SplitCheck } from '#core/jobs/split/check';
import { addressIn } from '../../ui/address/addresses';
import { post } from '../../ui/connection/json-request';

type Answer = { check: SplitCheck } | { trouble: string } | null;

/** Has what was split held against its source, once the kernel has measured the new files. */
export function useSplitCheck(projectId: string, check: object | null): Answer {
  const [answer, setAnswer] = useState<Answer>(null);
  const request = check ? JSON.stringify(check) : null;
  useEffect(() => {
    setAnswer(null);
    if (request === null) return;
    let gone = false;
    const ask = async () => {
      for (let pause = 300; !gone; pause = Math.min(3000, pause * 1.5)) {
        await new Promise((resolve) => setTimeout(resolve, pause));
        if (gone) return;
        const { check: made } = await post<{ check: SplitCheck | null }>(
          addressIn(projectId, 'split-check'),
          JSON.parse(request) as object,
        );
        if (made) {
          if (!gone) setAnswer({ check: made });
          return;
        }
      }
    };
    ask().catch((error: Error) => !gone && setAnswer({ trouble: error.message }));
    return () => {
      gone = true;
    };
  }, [projectId, request]);
  return answer;
}

/** What the comparison says, for the strip along the bottom. */
export function checkInWords(answer: Answer): string {
  if (answer === null) return 'Measuring the new files, to hold them against the source…';
  if ('trouble' in answer) return `The new files could not be held against the source: ${answer.trouble}`;
  const { isSame, after, before, volumeOff, centreOff, boxOff } = answer.check;
  const off = `${after.bodies} of ${before.bodies} bodies, volume off by ${part(volumeOff)}, centre by ${millimetres(centreOff)}, box by ${millimetres(boxOff)}`;
  return isSame
    ? `Measured: the same as the source (${off}).`
    : `Measured: NOT the same as the source (${off}). Undo the split, or look at the bodies that had no shape.`;
}

function part(value: number): string {
  return value === 0 ? '0 %' : `${(100 * value).toExponential(0)} %`;
}

function millimetres(value: number): string {
  return value < 1e-9 ? '0 mm' : `${value.toExponential(0)} mm`;
}
