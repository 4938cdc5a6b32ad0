/** Sends JSON and reads JSON. @throws Error with the server's words */
export async function post<Answer>(address: string, request: object, signal?: AbortSignal): Promise<Answer> {
  const answer = await fetch(address, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(request),
    signal,
  });
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
