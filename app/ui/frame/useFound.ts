import { useEffect, useState } from 'react';
import type { FoundEverywhere } from '#server/views/find/find';
import { addressIn } from '../address/addresses';
import { fetchPatiently } from '../connection/connection';

/** Milliseconds: letters that follow each other are looked for once. */
const PAUSE = 120;

const NOTHING: { typed: string } & FoundEverywhere = { typed: '', found: [], others: [], projects: [] };

/** What is found of what is typed; of an older text while the newest is looked for. */
export function useFound(projectId: string, typed: string): FoundEverywhere & { isLooking: boolean } {
  const [state, setState] = useState(NOTHING);
  const wanted = typed.trim();
  useEffect(() => {
    if (wanted === '') return setState(NOTHING);
    let isWanted = true;
    const look = async () => {
      const answer = await fetchPatiently(addressIn(projectId, 'find', { q: wanted }), {}, () => isWanted);
      if (!answer?.ok || !isWanted) return;
      const found = (await answer.json()) as FoundEverywhere;
      if (isWanted) setState({ typed: wanted, ...found });
    };
    const timer = setTimeout(() => void look(), PAUSE);
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [projectId, wanted]);
  return { ...state, isLooking: state.typed !== wanted };
}
