/** The parser of the bundler that Vite uses: alone, since Vite takes a third of a second to load. */
import { createRequire } from 'node:module';
import { fileURLToPath, pathToFileURL } from 'node:url';

type ParseSync = typeof import('vite').parseSync;

const ofVite = createRequire(fileURLToPath(import.meta.resolve('vite')));

export const { parseSync } = (await import(pathToFileURL(ofVite.resolve('rolldown/utils')).href)) as {
  parseSync: ParseSync;
};
