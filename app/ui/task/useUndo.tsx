import { Button } from '@mantine/core';
import { useState } from 'react';
import { useAtOnce } from './useAtOnce';

/**
 * Taking back the change that a page has just made.
 * @param changeSet its id; null while there is none
 * @returns whether it was taken back, and the button that does it
 */
export function useUndo(
  changeSet: string | null | undefined,
  label = 'Undo',
): { undone: boolean; button: React.ReactNode } {
  const { carryOut, isRunning, trouble } = useAtOnce('undo');
  const [undoneId, setUndoneId] = useState<string | null>(null);
  const undone = !!changeSet && undoneId === changeSet;
  const takeBack = async (change: string) => {
    if (await carryOut({ change })) setUndoneId(change);
  };
  const button = changeSet && !undone && (
    <Button
      variant="default"
      loading={isRunning}
      title={trouble ?? undefined}
      onClick={() => void takeBack(changeSet)}
    >
      {trouble ? 'It cannot be undone' : label}
    </Button>
  );
  return { undone, button };
}
