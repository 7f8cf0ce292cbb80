import { accessSync, constants, existsSync } from 'node:fs';
import { delimiter, join } from 'node:path';

/** The first installed program: an absolute path, or a name to find on PATH. */
export function findProgram(candidates: readonly (string | undefined)[]): string | undefined {
  for (const candidate of candidates) {
    if (!candidate) continue;
    if (candidate.includes('/') || candidate.includes('\\')) {
      if (existsSync(candidate)) return candidate;
      continue;
    }
    for (const folder of (process.env['PATH'] ?? '').split(delimiter)) {
      const path = join(folder, candidate);
      try {
        accessSync(path, constants.X_OK);
        return path;
      } catch {
        // Not in the current folder.
      }
    }
  }
  return undefined;
}
