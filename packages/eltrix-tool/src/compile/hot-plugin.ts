/**
 * Hot replacement on a development server: a module that defines elements is evaluated again, and `define()` replaces
 * their classes.
 */
import MagicString from 'magic-string';
import type { Plugin } from 'vite';
import { bare, type Node, parseModule, walk } from '../project/syntax.ts';

/** Lets the library define elements again. */
const announce = "globalThis[Symbol.for('eltrix.hot.1')] = true;";

export interface HotModule {
  /** Whether it can be evaluated again alone: other modules import nothing from it but elements that it defines. */
  readonly accepts: boolean;
}

/**
 * Adds a method that reads and writes a class's private fields, so that a new class can keep their values. Development
 * server only.
 */
export function showPrivateFields(file: string, code: string, output: MagicString): void {
  const program = code.includes('#') ? parseModule(file, code)?.program : undefined;
  if (!program) return;
  walk(program, node => {
    if (!/^Class(?:Declaration|Expression)$/.test(node.type) || !node['superClass']) return;
    const fields = (node['body']['body'] as Node[]).filter(
      ({ type, key, static: isStatic }) =>
        type === 'PropertyDefinition' && key.type === 'PrivateIdentifier' && isStatic !== true,
    );
    if (fields.length === 0) return;
    const visits = fields.map(({ key }) => {
      const name = (key as Node)['name'] as string;
      return `visit('#${name}', () => this.#${name}, value => { this.#${name} = value; });`;
    });
    output.appendLeft(
      node['body'].end - 1,
      ` [Symbol.for('eltrix.private.1')](visit) { super[Symbol.for('eltrix.private.1')]?.(visit); ${visits.join(' ')} } `,
    );
  });
}

/** The role of a module in hot replacement; undefined for one that defines no elements. */
export function hotModule(file: string, code: string): HotModule | undefined {
  if (!/\bdefine\b/.test(code)) return undefined;
  const program = parseModule(file, code)?.program;
  if (!program) return undefined;
  const classes = new Set<string>();
  const defined = new Set<string>();
  let isWritten = false;
  walk(program, node => {
    if (node.type === 'ClassDeclaration' && node['superClass'] && node['id']) classes.add(node['id']['name']);
    if (node.type === 'MetaProperty') isWritten ||= code.startsWith('.hot', node.end);
    if (node.type !== 'CallExpression') return;
    const callee = bare(node['callee']);
    if (
      callee.type === 'MemberExpression' &&
      callee['property']['name'] === 'define' &&
      callee['object'].type === 'Identifier'
    )
      defined.add(callee['object']['name']);
  });
  const elements = new Set([...classes].filter(name => defined.has(name)));
  if (elements.size === 0) return undefined;
  return { accepts: !isWritten && exportsOnly(program, elements) };
}

function exportsOnly(program: Node, elements: ReadonlySet<string>): boolean {
  return (program['body'] as Node[]).every(node => {
    if (node['exportKind'] === 'type') return true;
    if (node.type === 'ExportAllDeclaration') return false;
    if (node.type === 'ExportDefaultDeclaration') {
      const { type, id, name } = node['declaration'] as Node;
      return elements.has(type === 'Identifier' ? (name as string) : (id?.name as string));
    }
    if (node.type !== 'ExportNamedDeclaration') return true;
    const declaration = node['declaration'] as Node | null;
    if (declaration)
      return (
        /^TS(?:Interface|TypeAlias)/.test(declaration.type) ||
        (declaration.type === 'ClassDeclaration' && elements.has(declaration['id']['name']))
      );
    return (
      !node['source'] &&
      (node['specifiers'] as Node[]).every(
        ({ exportKind, local }) => exportKind === 'type' || elements.has(local['name']),
      )
    );
  });
}

/** @param isOurs whether a module belongs to the library. */
export function hotElements(isOurs: (id: string) => boolean): Plugin {
  return {
    name: 'eltrix-hot',
    apply: 'serve',
    enforce: 'pre',
    transform: {
      filter: {
        id: { include: /\.[cm]?[jt]sx?(?:\?|$)/, exclude: [/[\\/]node_modules[\\/]/, /\0/] },
        code: /\bdefine\b/,
      },
      handler(code, id) {
        if (this.environment.config.consumer === 'server' || isOurs(id)) return null;
        const found = hotModule(id.replace(/\?.*$/, ''), code);
        if (!found) return null;
        const output = new MagicString(code);
        output.prepend(announce);
        showPrivateFields(id.replace(/\?.*$/, ''), code, output);
        // Vite searches the module's text for these words.
        if (found.accepts) output.append('\nif (import.meta.hot) import.meta.hot.accept();\n');
        return { code: output.toString(), map: output.generateMap({ source: id, hires: 'boundary' }) };
      },
    },
  };
}
