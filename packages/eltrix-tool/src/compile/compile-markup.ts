/** Compiles markup: each template becomes static HTML, paths to its nodes, and a binding for each expression. */
import { analyse, MarkupError, type Namespace } from '../../../eltrix/src/view/analyse.ts';
import { type Node, scopeOfName } from '../project/syntax.ts';
import { withoutCode } from '../project/without-code.ts';
import { SourceMistake } from './compiled-module.ts';
import { positionOf, type RowOf } from './data-types.ts';
import { runtime } from './declaration.ts';
import { isPlain, type Known, onlyNames } from './infer.ts';
import { disputed, type StaticHtml, staticHtml, type Texts } from './markup-html.ts';
import type { ModuleCode } from './module-code.ts';
import { templateCode } from './template-code.ts';

export function compileMarkup(module: ModuleCode, node: Node, parents: readonly Node[], namespace: Namespace): void {
  const quasi = node['quasi'] as Node;
  const quasis = quasi['quasis'] as Node[];
  const expressions = quasi['expressions'] as Node[];
  const strings = quasis.map(part => part['value']['cooked'] as string | null);
  if (strings.includes(null)) return module.leave(node, 'markup', 'it contains an invalid escape');
  const known = knownAt(module, parents);
  const areText = ({ expression, count }: Texts) =>
    expressions.slice(expression, expression + count).every(one => isPlain(one, known));
  let made: StaticHtml;
  try {
    const analysis = analyse(strings as string[], namespace);
    const reason = disputed(analysis.html);
    if (reason) return module.leave(node, 'markup', reason);
    made = staticHtml(analysis.html, analysis.sites, namespace, areText);
  } catch (error) {
    if (!(error instanceof MarkupError)) throw error;
    if (module.options.leaveMistakes) return module.leave(node, 'markup', error.message);
    throw mistake(module, error, quasis);
  }
  const name = `${runtime}_${module.templates.length}`;
  const places = module.options.places === true;
  const { code, values } = templateCode(
    made,
    { strings: strings as string[], expressions, namespace, places },
    known,
    module,
  );
  module.templates.push(`const ${name} = /* @__PURE__ */ ${code};`);
  const [first, last] = [values[0], values.at(-1)];
  if (!first || !last) {
    module.output.overwrite(node.start, node.end, `${runtime}.piece(${name}, [])`);
    return;
  }
  // Expressions stay in place, which keeps positions and nested edits. A sequence expression is one value.
  const [open, close] = [
    (value: Node) => (isSequence(value) ? '(' : ''),
    (value: Node) => (isSequence(value) ? ')' : ''),
  ];
  module.output.overwrite(node.start, first.start, `${runtime}.piece(${name}, [${open(first)}`);
  for (let i = 1; i < values.length; i++) {
    const [before, value] = [values[i - 1]!, values[i]!];
    module.output.overwrite(before.end, value.start, `${close(before)}, ${open(value)}`);
  }
  module.output.overwrite(last.end, node.end, `${close(last)}])`);
}

/** The facts about `this` where an expression stands. */
function knownAt(module: ModuleCode, parents: readonly Node[]): Known {
  for (let i = parents.length - 1; i >= 0; i--) {
    const { type } = parents[i]!;
    const isMethod = type === 'FunctionExpression' && parents[i - 1]?.type === 'MethodDefinition';
    if (type === 'StaticBlock' || (/^(?:Method|Property)Definition$/.test(type) && parents[i]!['static'])) break;
    if (type === 'FunctionDeclaration' || (type === 'FunctionExpression' && !isMethod)) break;
    const facts = module.classes.get(parents[i]!);
    if (facts)
      return {
        ...facts,
        dataFlags: node => facts.dataFlags(node, { rowOf: name => rowOf(name, parents, module) }, true),
      };
    if (/^Class/.test(type) && type !== 'ClassBody') break;
  }
  return onlyNames(module.values);
}

/** The call of `each` to whose function a parameter belongs. */
function rowOf(name: Node, parents: readonly Node[], module: ModuleCode): ReturnType<RowOf> {
  const [start, end] = scopeOfName(module.bound, name) ?? [];
  const at = parents.findIndex(node => node.start === start && node.end === end && /Function/.test(node.type));
  const each = parents[at - 1];
  if (each?.type !== 'CallExpression' || each['arguments'][2] !== parents[at]) return undefined;
  if (module.nameOf(each['callee']) !== 'each') return undefined;
  const position = positionOf(parents[at]!, name);
  return position < 0 ? undefined : { each, position };
}

function mistake(module: ModuleCode, error: MarkupError, quasis: readonly Node[]): SourceMistake {
  const part = quasis[Math.min(error.expression, quasis.length - 1)]!;
  return new SourceMistake(error.code, withoutCode(error.message), {
    file: module.file,
    ...module.position(part.end),
  });
}

const isSequence = (node: Node) => node.type === 'SequenceExpression';
