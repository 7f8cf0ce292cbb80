/** Loads a project's `server.js`. */
import type { Bundled } from './bundled.ts';

/** The functions that render pages. */
export interface ServerModule {
  renderPage(html: string, options?: RenderPageOptions): string;
  renderPage(html: string, options: RenderPageOptions & { readonly wait: number }): Promise<string>;
}

export interface RenderPageOptions {
  readonly styles?: 'inline' | 'linked' | 'none';
  readonly base?: string;
  readonly onError?: (error: RenderFailure) => void;
}

/** An error of an element, with a code of the messages. */
export type RenderFailure = Error & { readonly code?: string; readonly tag?: string };

export async function loadServerModule({ code }: Pick<Bundled, 'code'>): Promise<ServerModule> {
  // Stacks show this name instead of the whole address.
  const named = `${String(code)}\n//# sourceURL=server.js`;
  return (await import(`data:text/javascript,${encodeURIComponent(named)}`)) as ServerModule;
}
