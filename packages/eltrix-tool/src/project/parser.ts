/** The parser of Vite's bundler, imported alone, since loading Vite takes a third of a second. */
import { createRequire } from 'node:module';
import { fileURLToPath, pathToFileURL } from 'node:url';

type ParseSync = typeof import('vite').parseSync;

const ofVite = createRequire(fileURLToPath(import.meta.resolve('vite')));

export const { parseSync } = (await import(pathToFileURL(ofVite.resolve('rolldown/utils')).href)) as {
  parseSync: ParseSync;
};
