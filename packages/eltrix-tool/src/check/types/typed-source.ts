/**
 * A source in which each expression of markup is the argument of a function that takes the type of its place
 * (`declarations.ts`). Everything else is unchanged, so that positions lead back to the source.
 */
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import MagicString from 'magic-string';
import { analyse, MarkupError, type Namespace, type Site } from '../../../../eltrix/src/view/analyse.ts';
import { type Imported, LibraryNames } from '../../project/library-names.ts';
import { bare, type Node, parseModule, walk } from '../../project/syntax.ts';
import { offsetOf, positionsIn, type TextPosition } from '../../project/text-position.ts';

/** The prefix of the functions' names, which no author's module uses. */
export const checker = '$eltrixMarkup';

export interface TypedSource {
  readonly code: string;
  /** The position in the source of an error, from 1; undefined for an error outside markup. */
  placeOf(line: number, column: number): TextPosition | undefined;
}

/** @returns undefined for a source without expressions in markup, and for one with a syntax error. */
export function typedSource(file: string, code: string, imported?: Imported): TypedSource | undefined {
  if (!code.includes('`')) return undefined;
  const parsed = parseModule(file, code);
  if (!parsed) return undefined;
  const names = new LibraryNames(parsed, imported);
  const output = new MagicString(code);
  const templates: { start: number; end: number; expressions: readonly Node[] }[] = [];
  walk(parsed.program, node => {
    if (node.type !== 'TaggedTemplateExpression') return;
    const namespace = namespaceOf(node['tag'] as Node, names);
    if (!namespace) return;
    const { quasis, expressions } = node['quasi'] as { quasis: Node[]; expressions: Node[] } & Node;
    if (expressions.length === 0) return;
    const sites = sitesOf(quasis, namespace);
    if (!sites) return;
    templates.push({ start: node.start, end: node.end, expressions });
    rewrite(output, node, expressions, sites, names);
  });
  if (templates.length === 0) return undefined;
  const map = new TraceMap(JSON.parse(output.generateMap({ hires: true }).toString()));
  const positionOf = positionsIn(code);
  return {
    code: output.toString(),
    placeOf(line, column) {
      const { line: at, column: from } = originalPositionFor(map, { line, column: column - 1 });
      if (at === null) return undefined;
      const offset = offsetOf(code, { line: at, column: from + 1 });
      const template = templates.findLast(({ start, end }) => start <= offset && offset < end);
      // An error at an inserted function is about the expression.
      const start = template?.expressions.find(({ end }) => offset < end)?.start;
      if (start === undefined) return undefined;
      return positionOf(Math.max(start, offset));
    },
  };
}

function namespaceOf(tag: Node, names: LibraryNames): Namespace | undefined {
  if (names.nameOf(tag) === 'markup') return 'html';
  if (tag.type !== 'MemberExpression' || tag['computed'] || names.nameOf(tag['object']) !== 'markup') return undefined;
  const { name } = tag['property'] as Node & { name: string };
  return name === 'svg' || name === 'math' ? name : undefined;
}

/** The site of each expression; undefined for markup with a mistake, which other checks report. */
function sitesOf(quasis: readonly Node[], namespace: Namespace): Map<number, Site> | undefined {
  const strings = quasis.map(part => part['value']['cooked'] as string | null);
  if (strings.includes(null)) return undefined;
  try {
    const { sites } = analyse(strings as string[], namespace);
    return new Map(
      sites.flatMap(site => Array.from({ length: site.count }, (_, i) => [site.expression + i, site] as const)),
    );
  } catch (error) {
    if (error instanceof MarkupError) return undefined;
    throw error;
  }
}

function rewrite(
  output: MagicString,
  { start, end }: Node,
  expressions: readonly Node[],
  sites: ReadonlyMap<number, Site>,
  names: LibraryNames,
): void {
  const calls = expressions.map((node, at) => callFor(output, sites.get(at), bare(node), names));
  output.overwrite(start, expressions[0]!.start, `${checker}.markup(${calls[0]!.open}`);
  for (let i = 1; i < expressions.length; i++)
    output.overwrite(expressions[i - 1]!.end, expressions[i]!.start, `${calls[i - 1]!.close}, ${calls[i]!.open}`);
  output.overwrite(expressions.at(-1)!.end, end, `${calls.at(-1)!.close})`);
}

interface Call {
  readonly open: string;
  readonly close: string;
}

const call = (open: string): Call => ({ open: `${checker}.${open}(`, close: ')' });

/** The call that checks an expression. */
function callFor(output: MagicString, site: Site | undefined, node: Node, names: LibraryNames): Call {
  const text = JSON.stringify;
  switch (site?.kind) {
    case 'attribute':
      return site.statics.some(Boolean)
        ? call('part')
        : call(`attribute<${text(site.foreign ? `svg ${site.tag}` : site.tag)}, ${text(site.name)}>()`);
    case 'listener': {
      const { open } = call(`target<${text(site.tag)}, ${text(site.type)}>().addEventListener`);
      // Only a function written in place gets the type of its event from here.
      return /Function/.test(node.type)
        ? { open: `${open}${text(site.type)}, `, close: ')' }
        : { open: `${open}${text(site.type)}, ${checker}.handler(`, close: '))' };
    }
    case 'element':
      return elementCall(output, site.tag, node, names);
    default:
      return call('content');
  }
}

function elementCall(output: MagicString, tag: string, node: Node, names: LibraryNames): Call {
  const name = JSON.stringify(tag);
  if (node.type === 'ObjectExpression') return call(`properties<${name}>()`);
  const library = node.type === 'CallExpression' && names.nameOf(node['callee']);
  const [argument] = (library ? node['arguments'] : []) as Node[];
  if (library === 'sync' && argument && argument.type !== 'SpreadElement') {
    output.appendLeft(argument.start, `${checker}.synced<${name}>()(`);
    output.appendRight(argument.end, ')');
  }
  return library === 'sync' || library === 'on' ? call('content') : call(`attached<${name}>()`);
}
