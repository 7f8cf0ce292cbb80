/** Compiles style sheets: those written in a module, and those imported from files. */

import { minifyCss } from '../project/minify-css.ts';
import { constantsOf } from '../project/module-constants.ts';
import { lead, listedSheet, sheetImports } from '../project/sheet-modules.ts';
import { bare, keyOf, type Node } from '../project/syntax.ts';
import { partsOf } from '../project/template-text.ts';
import { usesOf } from './constants.ts';
import type { ModuleCode } from './module-code.ts';
import { becauseOf, cssOf, keptPieces, minifyPieces, templateText } from './stylesheet.ts';

/** Sheets of the module, imported or in constants, that are only listed in `styleSheets`. */
export function readSheets(module: ModuleCode): void {
  for (const declaration of sheetImports(module.program)) {
    const [specifier, ...others] = declaration['specifiers'] as Node[];
    if (specifier?.type !== 'ImportDefaultSpecifier' || others.length > 0) continue;
    const name = specifier['local']['name'] as string;
    if (module.bound.has(name) || !isOnlyListed(module, name)) continue;
    module.sheets.add(name);
    module.changed = true;
    lead(module.output, declaration, listedSheet);
  }
  for (const [name, { value, isExported }] of constantsOf(module.program['body']))
    if (!isExported && module.isSheet(value) && module.bound.get(name)?.length === 1 && isOnlyListed(module, name))
      module.sheets.add(name);
}

function isOnlyListed(module: ModuleCode, name: string): boolean {
  return usesOf(module.program, name).every(([place, around]) => {
    if (/^Import/.test(around.at(-1)!.type)) return true;
    const list = around.findLast(parent => bare(parent) === parent && parent.type !== 'ArrayExpression');
    const value = list?.['value'] as Node | undefined;
    return (
      list?.type === 'PropertyDefinition' &&
      list['static'] &&
      keyOf(list) === 'styleSheets' &&
      value !== undefined &&
      (bare(value) === place || around.at(-1) === bare(value))
    );
  });
}

export function compileSheet(module: ModuleCode, node: Node, parents: readonly Node[]): void {
  const quasi = node['quasi'] as Node;
  const own = parents.find(
    parent => parent.type === 'PropertyDefinition' && parent['static'] && keyOf(parent) === 'styleSheets',
  );
  const constant = parents.at(-1)?.type === 'VariableDeclarator' ? (parents.at(-1)!['id']['name'] as string) : '';
  const stays = own ? module.sheetsStay(own['value']) : module.sheets.has(constant);
  const quasis = quasi['quasis'] as Node[];
  if (quasis.length > 1) {
    const small = minifyPieces(quasis.map(cssOf));
    if (small) {
      module.changed = true;
      for (const [at, { from, to }] of partsOf(quasi).entries())
        if (from < to) module.output.overwrite(from, to, templateText(small[at]!));
    } else module.leave(node, 'stylesheet', keptPieces);
    if (!stays) return;
    const { start, end } = node['tag'] as Node;
    module.output.overwrite(start, end, `new ${module.use('BuiltSheet')}(${module.use('sheetText')}`);
    module.output.appendRight(node.end, ')');
    return;
  }
  const { css, problem } = minifyCss(cssOf(quasis[0]!));
  if (problem) module.leave(node, 'stylesheet', becauseOf(problem));
  const text = JSON.stringify(css);
  if (stays) module.output.overwrite(node.start, node.end, `new ${module.use('BuiltSheet')}(${text})`);
  else if (!problem) {
    module.changed = true;
    module.output.overwrite(quasi.start, quasi.end, `\`${templateText(css)}\``);
  }
}
