/** Compiles a module: its templates, style sheets and contracts. */
import type { Namespace } from '../../../eltrix/src/view/analyse.ts';
import { bare, type Node, parseModule, walk } from '../project/syntax.ts';
import { nameIn } from './class-parts.ts';
import { compileClass, compileContract, factsOf, leanOf } from './compile-contract.ts';
import { compileMarkup } from './compile-markup.ts';
import { compileSheet, readSheets } from './compile-sheet.ts';
import { type CompiledModule, type CompileOptions, concerned } from './compiled-module.ts';
import { Constants } from './constants.ts';
import { type StatedContract, statedContract, Unknowable } from './declaration.ts';
import { ModuleCode } from './module-code.ts';

/** @returns null for a module without elements. */
export function compileModule(file: string, code: string, options: CompileOptions = {}): CompiledModule | null {
  if (!concerned.test(code)) return null;
  const parsed = parseModule(file, code);
  if (!parsed) return null;
  const module = new ModuleCode(file, code, parsed, options);
  const tagged: [Node, readonly Node[]][] = [];
  const classes: Node[] = [];
  const contracts: Node[] = [];
  walk(module.program, (node, parents) => {
    const found = nameIn(node, parents);
    if (found) module.named.add(found.name);
    if (found?.key) module.keys.add(found.name);
    if (node.type === 'TaggedTemplateExpression') tagged.push([node, [...parents]]);
    else if (/^Class/.test(node.type) && node['superClass']) classes.push(node);
    else if (node.type === 'CallExpression' && module.nameOf(node['callee']) === 'contract') contracts.push(node);
  });
  for (const node of classes) reportUnknown(module, bare(node['superClass']));
  const stated = statedIn(module, contracts);
  readSheets(module);
  for (const node of classes) module.classes.set(node, factsOf(module, node, stated));
  const done = new Set<Node>();
  for (const [call, contract] of stated) {
    const owner = classes.find(node => bare(node['superClass']) === call);
    const lean = owner && leanOf(module, owner, contract);
    if (!lean) {
      compileContract(module, call, contract, owner);
      continue;
    }
    module.changed = true;
    module.output.overwrite(call.start, call.end, lean.call);
    module.templates.push(...lean.templates);
    for (const edit of lean.edits) module.edit(edit);
    for (const node of lean.done) done.add(node);
  }
  for (const node of classes) compileClass(module, node, stated);
  for (const [node, parents] of tagged) {
    if (done.has(node)) continue;
    const tag = bare(node['tag']);
    if (module.nameOf(tag) === 'stylesheet') compileSheet(module, node, parents);
    else if (module.nameOf(tag) === 'markup') compileMarkup(module, node, parents, 'html');
    else if (tag.type === 'MemberExpression' && module.nameOf(tag['object']) === 'markup')
      compileMarkup(module, node, parents, tag['property']['name'] as Namespace);
  }
  return module.result();
}

/** Reports what is called like `contract()` but has a name that leads to no export of the library. */
function reportUnknown(module: ModuleCode, call: Node): void {
  if (call.type !== 'CallExpression' || module.nameOf(call['callee']) === 'contract') return;
  const [tag, declaration] = call['arguments'] as Node[];
  if (tag?.type !== 'Literal' || !/^[a-z].*-/.test(String(tag['value'])) || declaration?.type !== 'ObjectExpression')
    return;
  const called = module.text(call['callee']);
  module.leave(call, 'contract', `the build does not find out whether ${called} is contract() of eltrix`);
}

/** The contracts of a module that can be compiled; the others stay as written, and are listed in the report. */
function statedIn(module: ModuleCode, contracts: readonly Node[]): Map<Node, StatedContract> {
  const stated = new Map<Node, StatedContract>();
  const constants = new Constants(module, contracts);
  for (const call of contracts) {
    const reading = {
      text: (node: Node) => module.text(node),
      nameOf: (node: Node) => module.nameOf(node),
      resolve: (node: Node) => constants.resolve(node, call.start),
      isTyped: module.isTyped,
    };
    try {
      stated.set(call, statedContract(call, reading, module.options.places));
    } catch (error) {
      if (!(error instanceof Unknowable)) throw error;
      module.leave(error.node, 'contract', error.message);
    }
  }
  // A constant that nothing else names is dropped.
  if (stated.size > 0) for (const { start } of constants.calls) module.output.appendLeft(start, '/* @__PURE__ */ ');
  return stated;
}
