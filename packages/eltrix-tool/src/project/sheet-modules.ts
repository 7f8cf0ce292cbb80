/**
 * A Vite plugin for imported style sheets: `import sheet from './hive-card.css' with { type: 'css' }`. Engines return
 * a constructed sheet for such an import (HTML, CSS module scripts); so does this plugin, in bundled and served pages.
 */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import MagicString from 'magic-string';
import type { Plugin } from 'vite';
import { bundledCss } from './bundled-css.ts';
import { type Node, parseModule } from './syntax.ts';
import { ToolError } from './tool-error.ts';

/**
 * The query for a sheet that is only listed in `styleSheets`: it is constructed once for each document that needs it.
 */
export const listedSheet = '?eltrix-sheet';
/** The query for a sheet that is used in another way: it is constructed at once, as in an engine. */
const wholeSheet = '?eltrix-css';

const prefix = '\0eltrix-sheets:';

/** The declarations of a module that import style sheets. */
export function sheetImports(program: Node): Node[] {
  return (program['body'] as Node[]).filter(
    node =>
      node.type === 'ImportDeclaration' &&
      (node['attributes'] as Node[] | undefined)?.some(
        ({ key, value }) => (key.name ?? key.value) === 'type' && value.value === 'css',
      ),
  );
}

/** Replaces the specifier of an import by that of the generated module. */
export function lead(output: MagicString, declaration: Node, kind: string): void {
  const { source, attributes } = declaration;
  const end = (attributes as Node[]).at(-1)!.end;
  // The closing brace follows the attributes.
  const close = output.original.indexOf('}', end) + 1;
  output.overwrite(source.start, close, JSON.stringify(`${source.value}${kind}`));
}

/** @param report receives sheets that stay as written, with the reason. Without it the bundler warns. */
export function sheetModules(report?: (file: string, reason: string) => void): Plugin {
  let minify = false;
  return {
    name: 'eltrix-sheets',
    enforce: 'pre',
    configResolved({ command, build }) {
      minify = command === 'build' && build.minify !== false;
    },
    resolveId: {
      order: 'pre',
      async handler(id, importer) {
        if (importer?.startsWith(prefix)) {
          const [, file] = placeOf(importer);
          return this.resolve(id, file, { skipSelf: true });
        }
        const kind = [listedSheet, wholeSheet].find(kind => id.endsWith(kind));
        if (!kind) return undefined;
        const address = id.slice(0, -kind.length);
        const found = await this.resolve(address, importer, { skipSelf: true });
        const file = found?.id.replace(/\?.*$/, '') ?? resolve(dirname(importer ?? ''), address);
        return `${prefix}${kind.slice(1)}:${file}.js`;
      },
    },
    load: {
      filter: { id: new RegExp(`^${prefix}`) },
      handler(id) {
        const [kind, file] = placeOf(id);
        this.addWatchFile(file);
        if (!existsSync(file))
          throw new ToolError(
            'import-missing',
            `There is no sheet ${relative(process.cwd(), file).replaceAll('\\', '/')}, and a module imports it. Look at the name and the folder.`,
          );
        const { pieces, problem } = bundledCss(readFileSync(file, 'utf8'), minify);
        if (problem && report) report(file, problem);
        else if (problem) this.warn(`${file}: ${problem}.`);
        const imports: string[] = [];
        const text = pieces.map(piece => {
          if (typeof piece === 'string') return JSON.stringify(piece);
          const address = JSON.stringify(`${resolve(dirname(file), piece.address)}?url`);
          imports.push(`import url${imports.length} from ${address};\n`);
          return `url${imports.length - 1}`;
        });
        const code = text.join(' + ') || "''";
        return kind === listedSheet
          ? `${imports.join('')}import { BuiltSheet } from 'eltrix/compiled';\nexport default /* @__PURE__ */ new BuiltSheet(${code});\n`
          : `${imports.join('')}const text = ${code};\nconst sheet = globalThis.CSSStyleSheet ? new CSSStyleSheet() : { text };\nsheet.replaceSync?.(text);\nexport default sheet;\n`;
      },
    },
    transform: {
      filter: { id: /\.[cm]?[jt]sx?(?:\?|$)/, code: /\btype\b['"]?\s*:\s*['"]css['"]/ },
      handler(code, id) {
        const parsed = parseModule(id, code);
        const declarations = parsed ? sheetImports(parsed.program) : [];
        if (declarations.length === 0) return null;
        const output = new MagicString(code);
        for (const declaration of declarations) lead(output, declaration, wholeSheet);
        return { code: output.toString(), map: output.generateMap({ hires: 'boundary' }) };
      },
    },
  };
}

function placeOf(id: string): [kind: string, file: string] {
  const rest = id.slice(prefix.length, id.lastIndexOf('.js'));
  const end = rest.indexOf(':');
  return [`?${rest.slice(0, end)}`, rest.slice(end + 1)];
}

/** The file of a module: its own, or the sheet that it was generated from; undefined for other generated modules. */
export function fileOf(id: string): string | undefined {
  if (id.startsWith(prefix)) return placeOf(id)[1];
  return id.startsWith('\0') ? undefined : id.replace(/\?.*$/, '');
}
