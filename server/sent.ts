import { data } from 'react-router';
import type { z } from 'zod';
import { firstMisfit } from '#core/misfit';
import { Refusal } from '#core/refusal';

/** Bytes of JSON that are read unless more is expected. */
const USUAL_BYTES = 64 * 1024;
/** Levels and values of JSON: what is deeper, or more, is nothing that our pages send, and would hold the process while it is parsed. */
const [MOST_LEVELS, MOST_VALUES] = [32, 600_000];

const UNREADABLE = 'What was sent cannot be read. Reload the page and try again.';

/** Does what a form asks for; a refusal is words for its page, with 409. */
export async function orRefused<Done>(act: () => Promise<Done>) {
  try {
    return await act();
  } catch (error) {
    if (error instanceof Refusal) return data({ error: error.message }, { status: 409 });
    throw error;
  }
}

/**
 * JSON that came with a request: measured while it arrives, so that what is too long, too deep or too much is never held or parsed; then read
 * up to the first thing that is wrong.
 * @throws 413 for what is too long, 400 for what cannot be read
 */
export async function sentJson<Sent>(
  request: Request,
  schema: z.ZodType<Sent>,
  mostBytes = USUAL_BYTES,
): Promise<Sent> {
  const meter = new JsonMeter(mostBytes);
  const pieces: Uint8Array[] = [];
  for await (const piece of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    meter.add(piece);
    pieces.push(piece);
  }
  let value: unknown;
  try {
    value = JSON.parse(Buffer.concat(pieces).toString('utf8'));
  } catch {
    throw data(UNREADABLE, { status: 400 });
  }
  const read = firstMisfit(schema, value) ? undefined : schema.safeParse(value);
  if (!read?.success) throw data(UNREADABLE, { status: 400 });
  return read.data;
}

/** The fields of a form that came with a request. @throws 400 for what is no form */
export async function sentFields(request: Request): Promise<{ [name: string]: unknown }> {
  const form = await request.formData().catch(() => undefined);
  if (!form) throw data(UNREADABLE, { status: 400 });
  return Object.fromEntries(form);
}

const [QUOTE, BACKSLASH, COMMA] = [0x22, 0x5c, 0x2c];
const OPENING = new Set([0x5b, 0x7b]);
const CLOSING = new Set([0x5d, 0x7d]);

/** Measures JSON as it comes, byte by byte, without understanding more of it than what is a string. */
class JsonMeter {
  private bytes = 0;
  private levels = 0;
  private values = 0;
  private isString = false;
  private isEscaped = false;

  constructor(private readonly mostBytes: number) {}

  /** @throws 413 or 400 as soon as it is too much */
  add(piece: Uint8Array): void {
    this.bytes += piece.length;
    if (this.bytes > this.mostBytes)
      throw data(
        `What was sent is longer than the ${this.mostBytes.toLocaleString('en')} bytes that it may have. Choose less at a time.`,
        { status: 413 },
      );
    for (const byte of piece) {
      if (this.isString) {
        if (this.isEscaped) this.isEscaped = false;
        else if (byte === BACKSLASH) this.isEscaped = true;
        else if (byte === QUOTE) this.isString = false;
      } else if (byte === QUOTE) this.isString = true;
      else if (byte === COMMA) this.values++;
      else if (OPENING.has(byte)) {
        this.values++;
        this.levels++;
        if (this.levels > MOST_LEVELS) throw data(UNREADABLE, { status: 400 });
      } else if (CLOSING.has(byte)) this.levels--;
    }
    if (this.values > MOST_VALUES)
      throw data('What was sent holds more values than can be read at once. Choose less at a time.', {
        status: 413,
      });
  }
}
