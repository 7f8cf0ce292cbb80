/** What the expressions of a static element ("lean" in code) give, as code. */
import type { Site } from '../../../eltrix/src/view/analyse.ts';
import { cssName, showFor, showPrefixed } from '../../../eltrix/src/view/attribute.ts';
import { isGuarded } from '../../../eltrix/src/view/safety.ts';
import { bare, fieldsOf, type Node, onlyReturn, walk } from '../project/syntax.ts';
import { usesOf } from './constants.ts';
import type { Code, Edit } from './edit.ts';
import type { Known } from './infer.ts';
import { isAny, isFlag, isNothing, isText, mayThrow } from './known-functions.ts';
import type { LeanScope } from './lean-scope.ts';
import { decodeAttribute } from './markup-html.ts';
import { constant, pure, pureResult } from './pure.ts';

/** The module being compiled, as far as this file needs it. */
export interface ViewModule {
  readonly program: Node;
  readonly code: string;
  /** The code of templates, which stands before the module's. */
  readonly templates: readonly string[];
  use(name: string): string;
  nameOf(node: Node): string | undefined;
}

/** Whether an expression is pure, and its value no object. */
export const isNoObject = (flags: number | undefined) => flags !== undefined && !(flags & isAny);

/** Whether an expression has a known value without an error. */
export const isSafe = (flags: number | undefined) => flags !== undefined && !(flags & mayThrow);

/** The code of values. Expressions stay as written, in their order. */
export class LeanValues {
  readonly edits: Edit[] = [];
  /** The expressions of the template that is being bound. */
  protected expressions: readonly Node[] = [];
  /** Whether it is a piece: what it shows at first is shown again with its next values. */
  protected isPiece = false;

  constructor(
    readonly scope: LeanScope,
    readonly known: Known,
    readonly module: ViewModule,
  ) {}

  /** The value that an expression gives, as code without a function around it. */
  protected given(
    site: Site,
    expression: Node,
  ): { readonly code: Code; readonly flags: number | undefined; readonly isLive: boolean } | undefined {
    if (site.kind === 'attribute') {
      const texts = site.statics.map(decodeAttribute);
      if (texts.length > 2 || texts.some(Boolean)) {
        const code = this.joined(site, texts);
        return code && { code, flags: isText, isLive: true };
      }
    }
    const node = bare(expression);
    if (this.scope.rowOf(node))
      return { code: [expression, '()'], flags: this.scope.dataFlags(readOf(node)), isLive: true };
    const result = returned(node);
    if (result) return { code: [result], flags: pureResult(node, this.scope), isLive: true };
    const flags = this.isPiece ? constant(expression, this.scope) : pure(expression, this.scope);
    return { code: [expression], flags, isLive: false };
  }

  protected isPlainAttribute(site: Site): boolean {
    return (
      site.kind === 'attribute' &&
      site.name !== 'style' &&
      showFor(site.name, site.foreign) !== showPrefixed &&
      !isGuarded(site.tag, site.name)
    );
  }

  /** What a constant of `view()` is made from; other nodes themselves. */
  protected resolved(expression: Node): Node {
    const node = bare(expression);
    return (node.type === 'Identifier' && this.scope.names.local?.(node)) || node;
  }

  /** Whether a constant of `view()` is used for nothing else than to be shown; other nodes are. */
  protected isOnlyShown(node: Node): boolean {
    if (node.type !== 'Identifier') return true;
    return usesOf(this.module.program, node['name']).every(
      ([_, around]) => around.at(-2)?.type === 'TaggedTemplateExpression' && around.at(-1) === around.at(-2)!['quasi'],
    );
  }

  /** Whether an expression may depend on the element, and not only on the item of a row. */
  protected usesElement(expression: Node, seen = new Set<Node>()): boolean {
    let uses = false;
    walk(expression, node => {
      const made = node.type === 'Identifier' ? this.scope.names.local?.(node) : undefined;
      uses ||= node.type === 'ThisExpression';
      if (made && !seen.has(made)) uses ||= this.usesElement(made, seen.add(made));
      return !uses;
    });
    return uses;
  }

  /** A function that returns the value, if all of its dependencies are known. @param any whether a live one may give an object. */
  protected value(expression: Node, any = false): Code | undefined {
    const fn = this.resolved(expression);
    // The function that reads the item of a row is live itself.
    const item = fn.type === 'Identifier' ? this.scope.dataFlags(readOf(fn)) : undefined;
    if (item !== undefined) return any || isNoObject(item) ? [expression] : undefined;
    if (fn.type === 'ArrowFunctionExpression') {
      const result = fn['params'].length === 0 ? pureResult(fn, this.scope) : undefined;
      return isNoObject(result) || (any && result !== undefined) ? [expression] : undefined;
    }
    const value = this.isPiece ? constant(expression, this.scope) : pure(expression, this.scope);
    // It is evaluated once, in `view()`, where an error would be the view's. An object could be a function, which is live.
    return !isSafe(value) || !isNoObject(value) ? undefined : ['(value => () => value)(', expression, ')'];
  }

  protected attribute(site: Site & { kind: 'attribute' }, expression: Node): Code | undefined {
    const texts = site.statics.map(decodeAttribute);
    if (texts.length > 2 || texts.some(Boolean)) {
      const joined = this.joined(site, texts);
      return joined && ['() => ', ...joined];
    }
    const value = this.value(expression);
    if (value) return site.name === 'style' ? undefined : value;
    const result = returned(expression);
    if (!result) return undefined;
    const { type } = bare(result);
    if (site.name === 'style') return this.styles(bare(result)) ? [expression] : undefined;
    if (site.name === 'class' && (type === 'ObjectExpression' || type === 'ArrayExpression'))
      return this.allPure(bare(result)) ? [`() => ${this.module.use('classText')}(`, bare(result), ')'] : undefined;
    return undefined;
  }

  /** Several expressions, or text around one: one template literal. */
  protected joined({ expression, name }: Site & { kind: 'attribute' }, texts: readonly string[]): Code | undefined {
    if (name === 'style') return undefined;
    const parts: (string | Node)[] = [`\`${escaped(texts[0]!)}`];
    for (const [i, text] of texts.slice(1).entries()) {
      const part = this.expressions[expression + i]!;
      const live = returned(part);
      const result = live ?? part;
      const value = live ? pure(live, this.scope) : constant(part, this.scope);
      if (value === undefined || value & (isFlag | isNothing | mayThrow | isAny)) return undefined;
      parts.push('${', result, `}${escaped(text)}`);
    }
    return [...parts, '`'];
  }

  protected allPure(node: Node): boolean {
    const values =
      node.type === 'ArrayExpression'
        ? (node['elements'] as (Node | null)[])
        : fieldsOf(node) && [...fieldsOf(node)!.values()].map(field => (field['method'] ? null : field['value']));
    return values?.every(value => value && isNoObject(pure(value, this.scope))) ?? false;
  }

  /** A record of properties, with the names that CSS gives them. */
  protected styles(node: Node): boolean {
    const fields = node.type === 'ObjectExpression' ? fieldsOf(node) : undefined;
    if (!fields || !this.allPure(node)) return false;
    for (const [name, field] of fields) {
      if (field['shorthand']) return false;
      const { start, end } = field['key'] as Node;
      this.edits.push({ start, end, parts: [JSON.stringify(cssName(name))] });
    }
    return true;
  }
}

/** Whether an expression reads members of members: they throw if a value is not of the type that its source states. */
export function readsDeep(expression: Node): boolean {
  let deep = false;
  walk(expression, ({ type, object, optional }) => {
    const inner = type === 'MemberExpression' && !optional ? bare(object) : undefined;
    deep ||= inner?.type === 'ChainExpression';
    deep ||= inner?.type === 'MemberExpression' && inner['property'].type !== 'PrivateIdentifier';
    return !deep;
  });
  return deep;
}

/** The call of a function. */
const readOf = (callee: Node): Node => ({
  ...callee,
  type: 'CallExpression',
  callee,
  arguments: [],
  optional: false,
});

/** The result of a live expression. */
export function returned(expression: Node): Node | undefined {
  const fn = bare(expression);
  if (fn.type !== 'ArrowFunctionExpression' || fn['async'] || fn['params'].length > 0) return undefined;
  return onlyReturn(fn['body']);
}

function escaped(text: string): string {
  return text.replace(/[`\\]|\$(?=\{)/g, found => `\\${found}`);
}
