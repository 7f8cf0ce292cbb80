/** A Vite plugin for generated modules (an element's definition, a specimen's script), and for the library. */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Plugin } from 'vite';
import type { FoundElement } from '../project/discover.ts';
import { toolFile } from '../project/library.ts';
import { readSpecimens } from '../project/specimens.ts';

/** The prefix of URLs for files outside the project, on a server. */
export const prefix = '/@eltrix/';

const library = () => toolFile('dist/gallery/library');

/** The bundled library with its development messages. */
export function libraryFile(name: string): string {
  return join(library(), `${name}.js`);
}

/** A digest of the content: browsers cache a file with a digest in its URL for ever. */
export function versionOf(folder: string): string {
  const hash = createHash('sha256');
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true }))
    if (entry.isFile()) hash.update(readFileSync(join(entry.parentPath, entry.name)));
  return hash.digest('hex').slice(0, 8);
}

/** The URL of a specimen's script, relative to the gallery. */
export function scriptAddress(tag: string, slug: string, index: number): string {
  return `specimens/${tag}/${slug}-${index}.js`;
}

export function elementAddress(tag: string): string {
  return `elements/${tag}.js`;
}

const own = '\0eltrix-elements:';

/** The URL of a generated module. */
export function addressOf(id: string): string | undefined {
  return id.startsWith(own) ? id.slice(own.length) : undefined;
}

export function elementModules(root: string, elements: () => readonly FoundElement[]): Plugin {
  /** The file that a generated module replaces, and its text. */
  function find(address: string): { readonly file: string; readonly code: string } | undefined {
    for (const element of elements()) {
      const { tag, file, exportName } = element;
      if (address === elementAddress(tag)) {
        const from = JSON.stringify(join(root, file));
        return { file, code: `import { ${exportName} as Element } from ${from};\nElement.define();\n` };
      }
      if (!address.startsWith(`specimens/${tag}/`)) continue;
      const read = readSpecimens(root, element);
      for (const { slug, scripts } of read?.specimens ?? [])
        for (const [index, code] of scripts.entries())
          if (address === scriptAddress(tag, slug, index)) return { file: read!.file, code };
    }
    return undefined;
  }
  /** On a server, URLs of the library's files contain their version, so that Vite lets browsers cache them. */
  let version = '';
  return {
    name: 'eltrix-elements',
    enforce: 'pre',
    configResolved({ command }) {
      if (command === 'serve') version = `?v=${versionOf(library())}`;
    },
    resolveId(id, importer) {
      const address = id.startsWith(prefix) ? id.slice(prefix.length).replace(/\?.*$/, '') : undefined;
      if (address !== undefined && find(address)) return own + address;
      const entry = /^eltrix(?:\/(behaviours|store|context|routes|views|language|testing|compiled))?$/.exec(id);
      if (entry) return libraryFile(entry[1] ?? 'index') + version;
      if (version && id.startsWith('.') && importer?.startsWith(library()))
        return join(dirname(importer), id) + version;
      const from = importer && addressOf(importer);
      // Imports in a specimen's script are relative to the specimen.
      if (from?.startsWith('specimens/')) {
        const place = find(from);
        if (place) return this.resolve(id, join(root, place.file), { skipSelf: true });
      }
      return undefined;
    },
    load(id) {
      const address = addressOf(id);
      return address === undefined ? undefined : find(address)?.code;
    },
  };
}
