/** The address of a classic script, which has no `import.meta`. */
import MagicString from 'magic-string';
import type { Plugin } from 'vite';
import { type Node, walk } from '../project/syntax.ts';

/** The variable with a classic script's own URL. */
export const scriptUrl = '$eltrixScript';
/** The prefix of the bundler's references to emitted files. */
const fileMark = 'eltrix-file:';

/** Replaces `import.meta` by the URL that the script reads when it starts. */
export function ownAddress(): Plugin {
  return {
    name: 'eltrix-own-address',
    enforce: 'post',
    transform: {
      filter: { code: /\bimport\.meta\b/ },
      handler(code, id) {
        const program = this.parse(code) as unknown as Node;
        const output = new MagicString(code);
        walk(program, (node, parents) => {
          if (node.type !== 'MetaProperty' || node['meta']['name'] !== 'import') return;
          const above = parents.at(-1)!;
          const name =
            above.type === 'MemberExpression' && !above['computed'] ? (above['property']['name'] as string) : '';
          const [, file] = /^ROLLDOWN_FILE_URL_(.+)$/.exec(name) ?? [];
          if (file) output.overwrite(above.start, above.end, `new URL("${fileMark}${file}", ${scriptUrl}).href`);
          else if (name === 'url') output.overwrite(above.start, above.end, scriptUrl);
          else output.overwrite(node.start, node.end, `({ url: ${scriptUrl} })`);
        });
        return { code: output.toString(), map: output.generateMap({ source: id, hires: 'boundary' }) };
      },
    },
    // The names of emitted files are known at the end.
    renderChunk(code) {
      return code.replace(new RegExp(`${fileMark}([\\w$-]+)`, 'g'), (_, file: string) => this.getFileName(file));
    },
  };
}
