/** Decides which files of a project are served, and sends them. */
import { realpathSync, statSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join, relative, sep } from 'node:path';
import send from 'send';

/**
 * The file of a path inside a folder, with links resolved; undefined for a missing or hidden file, a folder, or a file
 * outside.
 * @param path relative to the folder, decoded.
 */
export function fileBelow(folder: string, path: string): string | undefined {
  try {
    const base = realpathSync(folder);
    // A link to a file outside is rejected.
    const file = realpathSync(join(base, path));
    return file.startsWith(base + sep) && !isHidden(relative(base, file)) && statSync(file).isFile() ? file : undefined;
  } catch {
    return undefined;
  }
}

/** Whether a segment of a path starts with a dot. Package managers use folders like `node_modules/.pnpm`. */
export function isHidden(path: string): boolean {
  const parts = path.split(/[\\/]/);
  return parts.some((part, at) => part.startsWith('.') && parts[at - 1] !== 'node_modules');
}

/** Sends a file, with ranges and conditional requests (RFC 9110 §13 and §14). */
export function sendFile(
  request: IncomingMessage,
  response: ServerResponse,
  folder: string,
  path: string,
  refuse: (status: number) => void,
): void {
  const file = fileBelow(folder, path);
  if (file === undefined) return refuse(404);
  const base = realpathSync(folder);
  const below = relative(base, file).split(sep).map(encodeURIComponent).join('/');
  send(request, `/${below}`, { root: base, dotfiles: 'allow', index: false, cacheControl: false })
    .on('error', (error: { status?: number }) => refuse(error.status ?? 404))
    .pipe(response);
}
