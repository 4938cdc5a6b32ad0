/** Opens a session. @returns its cookie */
export async function signIn(address: string, person: { email: string; password: string }): Promise<string> {
  const answer = await fetch(`${address}/sign-in`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams(person),
  });
  const cookie = answer.headers.get('Set-Cookie')?.split(';')[0];
  if (!cookie) throw new Error(`Signing in was answered with ${answer.status}.`);
  return cookie;
}
