import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import pLimit from 'p-limit';
import { environment } from '#server/environment';

/** Cost of scrypt (RFC 7914): 128 MB and some tenths of a second, as is recommended today. Tests set a lower one. */
const costNow = (): Cost => ({ N: 2 ** environment().passwordCost, r: 8, p: 1 });
type Cost = { N: number; r: number; p: number };
/** Memory that verifying may take: that of the cost at which a hash was made, and a little more. */
const memoryFor = ({ N, r }: { N: number; r: number }) => 128 * N * r + 32 * 1024 * 1024;
/** Hashes at a time: they would take all threads of the process, and pages would stand still. */
const atOnce = pLimit(2);
const LENGTH = 32;

/** Hash of a password: scrypt, with its salt and cost written beside it. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const cost = costNow();
  const key = await derive(password, salt, cost);
  return ['scrypt', cost.N, cost.r, cost.p, salt.toString('base64'), key.toString('base64')].join('$');
}

export async function verifyPassword(password: string, hash: string): Promise<boolean> {
  const [scheme, n, r, p, salt, key] = hash.split('$');
  if (scheme !== 'scrypt' || !salt || !key) return false;
  const expected = Buffer.from(key, 'base64');
  const actual = await derive(password, Buffer.from(salt, 'base64'), {
    N: Number(n),
    r: Number(r),
    p: Number(p),
  });
  return expected.length === actual.length && timingSafeEqual(expected, actual);
}

/** Whether a hash was made at a lower cost than today's. */
export function isOutdated(hash: string): boolean {
  return Number(hash.split('$')[1]) < costNow().N;
}

function derive(password: string, salt: Buffer, cost: Cost): Promise<Buffer> {
  return atOnce(
    () =>
      new Promise<Buffer>((resolve, reject) => {
        const options = { ...cost, maxmem: memoryFor(cost) };
        scrypt(password.normalize('NFKC'), salt, LENGTH, options, (error, key) =>
          error ? reject(error) : resolve(key),
        );
      }),
  );
}
