/** Rejects imports that no page could use. */
import { builtinModules } from 'node:module';
import { relative } from 'node:path';
import type { Plugin } from 'vite';
import { type Node, parseModule } from '../project/syntax.ts';
import { positionIn } from '../project/text-position.ts';
import { excerptOf, ToolError } from '../project/tool-error.ts';

const ofNode = new RegExp(`^(?:node:)?(?:${builtinModules.join('|')})$`);

/** Vite replaces Node's modules by an empty module: a page would fail later, without the reason. */
export function refuseNode(root: string): Plugin {
  return {
    name: 'eltrix-no-node',
    enforce: 'pre',
    resolveId: {
      filter: { id: ofNode },
      handler(id, importer) {
        if (!importer || importer.startsWith('\0')) return undefined;
        const file = relative(root, importer.replace(/\?.*$/, '')).replaceAll('\\', '/');
        throw new ToolError(
          'bare-import',
          `${file} imports "${id}", which only Node has. No page can resolve it. Take the import out, or move it to a module that no element imports. Nothing was written.`,
          { file },
        );
      },
    },
  };
}

/** Vite would write such a sheet to a file that no page loads. */
export function refusePlainCss(root: string): Plugin {
  return {
    name: 'eltrix-no-plain-css',
    enforce: 'pre',
    transform: {
      filter: { id: /\.[cm]?[jt]sx?(?:\?|$)/, code: /\.(?:css|scss|sass|less|styl)['"]/ },
      handler(code, id) {
        const plain = importsOf(id, code).find(
          ({ source, attributes }) => /\.(?:css|scss|sass|less|styl)$/.test(source.value) && attributes.length === 0,
        );
        if (!plain) return;
        const { line, column } = positionIn(code, plain.start);
        const from = JSON.stringify(plain['source'].value);
        throw new ToolError(
          'css-import',
          `An import of CSS like this styles the page of a bundler, and no page of a widget would load it. For the sheet of an element write import sheet from ${from} with { type: 'css' }, and static styleSheets = [sheet]. Nothing was written.`,
          { file: relative(root, id.replace(/\?.*$/, '')).replaceAll('\\', '/'), line, column },
          excerptOf(code, line, column),
        );
      },
    },
  };
}

/** The import declarations of a module. */
function importsOf(file: string, code: string): Node[] {
  const body = (parseModule(file, code)?.program['body'] ?? []) as Node[];
  return body.filter(({ type, importKind }) => type === 'ImportDeclaration' && importKind !== 'type');
}
