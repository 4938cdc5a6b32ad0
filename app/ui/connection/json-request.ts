import { fetchPatiently } from './connection';

/** Nobody waits for an answer any more. */
export class NotWanted extends Error {}

/**
 * Sends JSON and reads JSON; where no answer comes it is sent again, so it must do no harm when it arrives twice.
 * @param isWanted whether somebody still waits
 * @throws Error with the server's words; NotWanted
 */
export async function post<Answer>(
  address: string,
  request: object,
  isWanted?: () => boolean,
): Promise<Answer> {
  const answer = await fetchPatiently(
    address,
    { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(request) },
    isWanted,
  );
  if (!answer) throw new NotWanted();
  if (!answer.ok) throw new Error(await wordsOf(answer));
  return (await answer.json()) as Answer;
}

/** What the server says was wrong. */
export async function wordsOf(answer: Response): Promise<string> {
  const text = await answer.text();
  try {
    return (JSON.parse(text) as { error?: string }).error ?? text;
  } catch {
    return text || `The server answered with ${answer.status}. Try again.`;
  }
}
