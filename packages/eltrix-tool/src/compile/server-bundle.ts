/** `server.js`: the elements as written, the functions that render them, and the style sheets for linked styles. */
import { join } from 'node:path';
import { build, type Rolldown } from 'vite';
import { bundlerConfig } from '../project/bundler.ts';
import type { ElementPlace } from '../project/discover.ts';
import { readableModules } from '../project/readable-modules.ts';
import { sheetModules } from '../project/sheet-modules.ts';
import { sourceError } from '../project/source-error.ts';
import type { Bundled } from './bundled.ts';
import { refuseNode, refusePlainCss } from './refusals.ts';

export const serverFile = 'server.js';

const entry = 'eltrix-server-entry';

/**
 * @param base the URL path of the built files, for images and linked styles.
 * @throws ToolError for a source error.
 */
export async function serverBundle(
  root: string,
  elements: readonly ElementPlace[],
  className: (element: ElementPlace) => string,
  base: string,
): Promise<Bundled[]> {
  const lines = elements.map(element => {
    const name = className(element);
    const from = JSON.stringify(join(root, element.file));
    return `import { ${element.exportName} as ${name} } from ${from};\n${name}.define();\nexport { ${name} };\n`;
  });
  const code = [
    "export * from 'eltrix/server';\n",
    "import { useBase } from 'eltrix/server';\n",
    `useBase(${JSON.stringify(base)});\n`,
    ...lines,
  ].join('');
  try {
    const { output } = (await build(
      await bundlerConfig(root, {
        base,
        // Without "browser": a package then exports the code that needs no document.
        resolve: { conditions: ['production', 'module'] },
        plugins: [
          {
            name: 'eltrix-server-entry',
            enforce: 'pre',
            resolveId: id => (id === entry ? join(root, entry) : undefined),
            load: id => (id === join(root, entry) ? { code, moduleType: 'js' as const } : undefined),
          },
          readableModules(root),
          refuseNode(root),
          refusePlainCss(root),
          sheetModules(() => {}),
        ],
        build: {
          write: false,
          target: 'es2022',
          minify: false,
          assetsInlineLimit: 0,
          modulePreload: false,
          rolldownOptions: {
            input: entry,
            preserveEntrySignatures: 'strict',
            output: {
              format: 'esm',
              entryFileNames: serverFile,
              assetFileNames: '[name]-[hash][extname]',
              codeSplitting: false,
            },
          },
        },
      }),
    )) as Rolldown.RolldownOutput;
    const script = output.find(file => file.type === 'chunk')!;
    const address = `data:text/javascript,${encodeURIComponent(script.code)}`;
    const { styleFiles } = (await import(address)) as { styleFiles(): Record<string, string> };
    const files = { [serverFile]: script.code, ...styleFiles() };
    return Object.entries(files).map(([file, code]) => ({ file, code, imports: [], modules: new Map() }));
  } catch (error) {
    throw sourceError(error, root);
  }
}
