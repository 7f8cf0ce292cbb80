/** The style sheets of static elements. */
import { minifyCss } from '../project/minify-css.ts';
import { bare, keyOf, type Node } from '../project/syntax.ts';
import type { Uncompiled } from './compiled-module.ts';
import { cssOf, keptPieces, minifyPieces, templateText } from './stylesheet.ts';

/** The module being compiled, as far as this file needs it. */
export interface SheetModule {
  readonly code: string;
  /** The names of sheets that are only listed in `styleSheets`. */
  readonly sheets: ReadonlySet<string>;
  use(name: string): string;
  nameOf(node: Node): string | undefined;
  originOf(node: Node): { readonly from: string; readonly name: string } | undefined;
  leave(node: Node, what: Uncompiled['what'], reason: string): void;
}

export interface Sheets {
  readonly member: Node;
  readonly templates: readonly Node[];
  /** The code of a text, of a sheet, or of a list of both. */
  readonly code: string;
  /** Whether some come from other modules. */
  readonly areImported: boolean;
}

/** Its style sheets; undefined if it has none, null if they are not known. */
export function sheetsOf(node: Node, module: SheetModule): Sheets | undefined | null {
  const member = (node['body']['body'] as Node[]).find(
    member => member['static'] && member.type !== 'StaticBlock' && keyOf(member) === 'styleSheets',
  );
  if (!member) return undefined;
  if (member.type !== 'PropertyDefinition' || !member['value']) return null;
  const value = bare(member['value']);
  const items = value.type === 'ArrayExpression' ? (value['elements'] as (Node | null)[]) : [value];
  const templates = items.flatMap(item => (item && bare(item).type !== 'Identifier' ? bare(item) : []));
  const codes: string[] = [];
  for (const item of items) {
    const code = item ? sheetOf(bare(item), node, module) : undefined;
    if (code === undefined) return null;
    codes.push(code);
  }
  // The same sheet twice counts once, which only the other elements know.
  if (new Set(codes).size < codes.length) return null;
  const areImported = items.some(item => isImported(bare(item!), module));
  const code = codes.length === 1 && !areImported ? codes[0]! : `[${codes.join(', ')}]`;
  return { member, templates, code: areImported ? `${module.use('leanSheets')}(${code})` : code, areImported };
}

/** Whether it comes from another module, which may do more with it, or have a list of sheets under this name. */
const isImported = (item: Node, module: SheetModule) =>
  item.type === 'Identifier' && !module.sheets.has(item['name']) && module.originOf(item) !== undefined;

function sheetOf(item: Node, node: Node, module: SheetModule): string | undefined {
  if (item.type === 'Identifier')
    return module.sheets.has(item['name']) || isImported(item, module) ? item['name'] : undefined;
  if (item.type !== 'TaggedTemplateExpression' || module.nameOf(item['tag']) !== 'stylesheet') return undefined;
  const quasi = item['quasi'] as Node;
  const expressions = quasi['expressions'] as Node[];
  if (expressions.length > 0) {
    // The text is created with the base class, before the class has its name.
    const own = node['id']?.['name'] as string | undefined;
    const isKnown = expressions.every(({ type, name }) => type === 'Identifier' && name !== own);
    return isKnown ? `${module.use('sheetText')}${sheetCode(item, module)}` : undefined;
  }
  const { css, problem } = minifyCss(cssOf((quasi['quasis'] as Node[])[0]!));
  return problem ? undefined : JSON.stringify(css);
}

/** The code of a sheet with expressions, minified where possible. */
function sheetCode(template: Node, module: SheetModule): string {
  const quasi = template['quasi'] as Node;
  const small = minifyPieces((quasi['quasis'] as Node[]).map(cssOf));
  if (!small) {
    module.leave(template, 'stylesheet', keptPieces);
    return module.code.slice(quasi.start, quasi.end);
  }
  const expressions = (quasi['expressions'] as Node[]).map(({ start, end }) => `\${${module.code.slice(start, end)}}`);
  return `\`${small.map((text, at) => templateText(text) + (expressions[at] ?? '')).join('')}\``;
}
