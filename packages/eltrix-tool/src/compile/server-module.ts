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
  readonly onError?: (error: Error & { readonly code?: string; readonly tag?: string }) => void;
}

export async function loadServerModule({ code }: Pick<Bundled, 'code'>): Promise<ServerModule> {
  return (await import(`data:text/javascript,${encodeURIComponent(String(code))}`)) as ServerModule;
}
