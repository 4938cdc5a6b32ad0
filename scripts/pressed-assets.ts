import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import type { Plugin } from 'vite';

const press = promisify(brotliCompress);

/** Smaller files gain nothing. */
const LEAST_BYTES = 1000;

/**
 * Lays each script and style of the pages beside itself as pressed as it gets (Brotli, RFC 7932): once while building takes seconds,
 * while answering it would take them for everybody.
 */
export function pressedAssets(): Plugin {
  return {
    name: 'pressed-assets',
    apply: 'build',
    applyToEnvironment: ({ name }) => name === 'client',
    async writeBundle({ dir }, bundle) {
      const assets = Object.keys(bundle).filter((name) => /\.(js|css|svg)$/.test(name));
      await Promise.all(
        assets.map(async (name) => {
          const file = path.join(dir!, name);
          const bytes = await readFile(file);
          if (bytes.length < LEAST_BYTES) return;
          const pressed = await press(bytes, {
            params: {
              [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY,
              [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length,
            },
          });
          await writeFile(`${file}.br`, pressed);
        }),
      );
    },
  };
}
