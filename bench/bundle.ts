import { eltrix } from 'eltrix-tool/vite';
import { build } from 'vite';

export interface Output {
  readonly fileName: string;
  readonly code: string;
}

export interface Options {
  readonly minify?: boolean;
  /** False: elements without signals are compiled like the others. */
  readonly lean?: boolean;
  /** Modules stay as they are written. */
  readonly asWritten?: boolean;
}

/** Bundles modules as they are shipped: compiled, with the production build. */
export async function bundle(
  root: string,
  input: string | Record<string, string>,
  output: Record<string, unknown> = {},
  { minify = true, lean = true, asWritten = false }: Options = {},
): Promise<Output[]> {
  const result = (await build({
    root,
    configFile: false,
    logLevel: 'warn',
    publicDir: false,
    resolve: { conditions: ['production', 'browser', 'module'] },
    // By hand there is nothing that it changes.
    plugins: asWritten ? [] : [eltrix({ lean })],
    build: {
      write: false,
      minify,
      target: 'es2022',
      modulePreload: false,
      rolldownOptions: { input, preserveEntrySignatures: 'exports-only', output },
    },
  })) as unknown as { output: Output[] };
  return result.output;
}
