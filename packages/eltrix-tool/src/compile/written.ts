/** Elements as they are written, not compiled, and specimens' scripts: modules with the library's development messages. */

import { build } from 'vite';
import { bundlerConfig } from '../project/bundler.ts';
import type { FoundElement } from '../project/discover.ts';
import { readableModules } from '../project/readable-modules.ts';
import { sheetModules } from '../project/sheet-modules.ts';
import { sourceError } from '../project/source-error.ts';
import { readSpecimens } from '../project/specimens.ts';
import { elementAddress, elementModules, prefix, scriptAddress } from './element-modules.ts';

/** Files by name: `elements/<tag>.js`, `specimens/<tag>/…`, and what they share. */
export async function bundleWritten(
  root: string,
  elements: readonly FoundElement[],
  target: string,
): Promise<Map<string, string | Uint8Array>> {
  const addresses = elements.flatMap(element => {
    const specimens = readSpecimens(root, element)?.specimens ?? [];
    return [
      elementAddress(element.tag),
      ...specimens.flatMap(({ slug, scripts }) => scripts.map((_, index) => scriptAddress(element.tag, slug, index))),
    ];
  });
  const { output } = (await build(
    await bundlerConfig(root, {
      base: './',
      worker: { format: 'es' },
      resolve: { conditions: ['development', 'browser', 'module'] },
      plugins: [elementModules(root, () => elements), sheetModules(), readableModules(root)],
      build: {
        write: false,
        target,
        minify: 'oxc',
        assetsInlineLimit: 0,
        modulePreload: false,
        rolldownOptions: {
          input: Object.fromEntries(addresses.map(address => [address.replace(/\.js$/, ''), prefix + address])),
          preserveEntrySignatures: false,
          output: {
            format: 'esm',
            entryFileNames: '[name].js',
            chunkFileNames: 'parts/[name]-[hash].js',
            assetFileNames: 'parts/[name]-[hash][extname]',
          },
        },
      },
    }),
  ).catch((error: unknown) => {
    throw sourceError(error, root);
  })) as unknown as {
    output: ({ fileName: string } & (
      | { type: 'chunk'; code: string }
      | { type: 'asset'; source: string | Uint8Array }
    ))[];
  };
  return new Map(output.map(file => [file.fileName, file.type === 'chunk' ? file.code : file.source]));
}
