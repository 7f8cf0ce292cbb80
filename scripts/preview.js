// Serves a built project on a free port. Vite looks for a free port and binds it later, so a start may be repeated.
import { preview } from 'vite';

/** @returns {Promise<import('vite').PreviewServer>} */
export async function previewOf(root, configFile) {
  for (let tries = 1; ; tries++) {
    try {
      return await preview({ root, configFile, preview: { host: '127.0.0.1', port: 0 }, logLevel: 'silent' });
    } catch (error) {
      if (tries === 5 || !/already in use/.test(String(error))) throw error;
    }
  }
}
