import { vi } from 'vitest';
import { main } from './main';

/** Runs a command in this process. */
export async function run(
  ...args: string[]
): Promise<{ code: number; out: string; json: () => ReturnType<typeof JSON.parse>; error: string }> {
  let out = '';
  let error = '';
  const stdout = vi.spyOn(process.stdout, 'write').mockImplementation((text) => {
    out += text;
    return true;
  });
  const stderr = vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
    error += text;
    return true;
  });
  try {
    const code = await main(args);
    return { code, out, error, json: () => JSON.parse(out) };
  } finally {
    stdout.mockRestore();
    stderr.mockRestore();
  }
}
