import { useEffect, useState } from 'react';
import type { Found } from '#server/views/files/find';
import { addressIn } from '../address/addresses';
import { fetchPatiently } from '../connection/connection';

/** Milliseconds: letters that follow each other are looked for once. */
const PAUSE = 120;

const NOTHING: { typed: string; found: readonly Found[] } = { typed: '', found: [] };

/** Files and components of the project whose names fit what is typed; of an older text while the newest is looked for. */
export function useFound(projectId: string, typed: string): { found: readonly Found[]; isLooking: boolean } {
  const [state, setState] = useState(NOTHING);
  const wanted = typed.trim();
  useEffect(() => {
    if (wanted === '') return setState(NOTHING);
    let isWanted = true;
    const look = async () => {
      const answer = await fetchPatiently(addressIn(projectId, 'find', { q: wanted }), {}, () => isWanted);
      if (!answer?.ok || !isWanted) return;
      const found = (await answer.json()) as Found[];
      if (isWanted) setState({ typed: wanted, found });
    };
    const timer = setTimeout(() => void look(), PAUSE);
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [projectId, wanted]);
  return { found: state.found, isLooking: state.typed !== wanted };
}
