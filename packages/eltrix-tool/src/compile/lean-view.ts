/** The views of static elements ("lean" in code). */
import { analyse, type Site } from '../../../eltrix/src/view/analyse.ts';
import { cssName, showFor, showPrefixed } from '../../../eltrix/src/view/attribute.ts';
import { orderOf } from '../../../eltrix/src/view/order.ts';
import { isAddress, isGuarded } from '../../../eltrix/src/view/safety.ts';
import { bare, fieldsOf, type Node, onlyReturn } from '../project/syntax.ts';
import { isField, splitRecord } from './binder.ts';
import { usesOf } from './constants.ts';
import { runtime } from './declaration.ts';
import { isFunction, type Known } from './infer.ts';
import { isAny, isFlag, isNothing, mayThrow } from './known-functions.ts';
import { decodeAttribute, disputed, type PlacedSite, type StaticHtml, staticHtml } from './markup-html.ts';
import { constant, pure, pureResult, type Scope } from './pure.ts';

/** The module being compiled, as far as this file needs it. */
export interface ViewModule {
  readonly program: Node;
  readonly code: string;
  /** The code of templates, which stands before the module's. */
  readonly templates: readonly string[];
  use(name: string): string;
  nameOf(node: Node): string | undefined;
}

/** One edit of the source. Nodes in `parts` keep their place, with text around them. */
export interface Edit {
  readonly start: number;
  readonly end: number;
  readonly parts: readonly (string | Node)[];
}

export interface BoundView {
  readonly html: string;
  readonly edits: readonly Edit[];
  /** The templates that were compiled: that of the view, and those of pieces inside. */
  readonly done: ReadonlySet<Node>;
  /** The code of the pieces' templates. */
  readonly templates: readonly string[];
}

type Code = readonly (string | Node)[];

/**
 * @param isFollowed whether the graph tracks what the view reads.
 * @returns undefined for a view that does more than to show properties.
 */
export function bindView(
  view: Node,
  scope: Scope,
  known: Known,
  module: ViewModule,
  isFollowed: boolean,
): BoundView | undefined {
  const tagged = writtenView(view, scope, module);
  const writer = new ViewWriter(scope, known, module);
  const bound = tagged && writer.bind(tagged);
  if (!tagged || !bound) return undefined;
  const fn = view['value'] as Node;
  const [statement] = fn['body']['body'] as Node[];
  return {
    html: bound.html,
    edits: [
      { start: fn.start + 1, end: fn.start + 1, parts: ['$'] },
      { start: statement!.start, end: statement!.start, parts: [bound.before] },
      {
        start: tagged.start,
        end: tagged.end,
        parts: isFollowed ? [`[${module.use('followed')}(this, `, ...bound.code, ')]'] : bound.code,
      },
      ...writer.edits,
    ],
    done: writer.done,
    templates: writer.templates,
  };
}

/** The markup that `view()` returns, if it does nothing else but to make constants. */
function writtenView(view: Node, scope: Scope, module: ViewModule): Node | undefined {
  const fn = view['value'] as Node;
  if (view.type !== 'MethodDefinition' || view['kind'] !== 'method' || view['static']) return undefined;
  if (fn['async'] || fn['generator'] || fn['params'].length > 0 || module.code[fn.start] !== '(') return undefined;
  const statements = [...(fn['body']['body'] as Node[])];
  const last = statements.pop();
  if (last?.type !== 'ReturnStatement' || !statements.every(statement => onlyMakes(statement, scope))) return undefined;
  const result = last['argument'] as Node | null;
  return result?.type === 'TaggedTemplateExpression' && module.nameOf(result['tag']) === 'markup' ? result : undefined;
}

/** Whether a statement makes constants: functions, and values that are known. */
function onlyMakes({ type, kind, declarations }: Node, scope: Scope): boolean {
  if (type !== 'VariableDeclaration' || kind !== 'const') return false;
  return (declarations as { id: Node; init: Node }[]).every(({ id, init }) => {
    if (id.type !== 'Identifier' || scope.names.local?.(id) !== bare(init)) return false;
    return /Function/.test(bare(init).type) || isSafe(pure(init, scope));
  });
}

/** Whether an expression is pure, and its value no object. */
const isNoObject = (flags: number | undefined) => flags !== undefined && !(flags & isAny);

/** Whether an expression has a known value without an error. */
const isSafe = (flags: number | undefined) => flags !== undefined && !(flags & mayThrow);

/** Whether it has to be set after another binding that is written later: here all run as written. */
function isEarly(value: Site, sites: readonly PlacedSite[]): boolean {
  const order = orderOf(value);
  return sites.some(
    ({ site }) =>
      site.expression > value.expression &&
      orderOf(site) < order &&
      // The options of a `<select>` are other nodes.
      (site.node === value.node || order === 2),
  );
}

function parsed(strings: readonly string[]): StaticHtml | undefined {
  try {
    const { html, sites } = analyse(strings);
    const made = disputed(html) ? undefined : staticHtml(html, sites, 'html');
    // Nodes in the content of a `<template>` are not nodes of a copy.
    return made?.html.includes('<template') ? undefined : made;
  } catch {
    // The other compiler reports the mistake.
    return undefined;
  }
}

/** Writes the code of each template; the expressions themselves stay as written. */
class ViewWriter {
  readonly edits: Edit[] = [];
  readonly done = new Set<Node>();
  readonly templates: string[] = [];
  /** Those of the template that is being bound. */
  #expressions: readonly Node[] = [];
  /** Whether it is a piece: what it shows at first is shown again with its next values. */
  #isPiece = false;

  constructor(
    readonly scope: Scope,
    readonly known: Known,
    readonly module: ViewModule,
  ) {}

  /** @returns its HTML, what has to be done first, and the code of a list of its expressions. */
  bind(tagged: Node): { readonly html: string; readonly before: string; readonly code: Code } | undefined {
    const strings = (tagged['quasi']['quasis'] as Node[]).map(part => part['value']['cooked'] as string | null);
    const made = strings.includes(null) ? undefined : parsed(strings as string[]);
    if (!made || made.sites.some(({ site }) => isEarly(site, made.sites))) return undefined;
    this.done.add(tagged);
    const outer = this.#expressions;
    this.#expressions = tagged['quasi']['expressions'];
    const before: string[] = [];
    const code: (string | Node)[] = ['['];
    for (const placed of made.sites.toSorted((a, b) => a.site.expression - b.site.expression)) {
      const { site, index } = placed;
      if (site.kind === 'style') {
        before.push(`$[${index}].style.cssText = ${JSON.stringify(decodeAttribute(site.text))};`);
        continue;
      }
      const written = this.#codeOf(placed);
      if (!written) return undefined;
      code.push(...written, ', ');
    }
    this.#expressions = outer;
    return { html: made.html, before: before.join(' '), code: [...code, ']'] };
  }

  #codeOf({ site, index, tag }: PlacedSite): Code | undefined {
    const expression = this.#expressions[(site as { expression: number }).expression]!;
    const use = (name: string) => this.module.use(name);
    switch (site.kind) {
      case 'content': {
        const value = this.#value(expression);
        if (value) return [`${use('leanExpression')}($[${index}], `, ...value, ')'];
        const result = returned(this.#resolved(expression));
        return result && this.#isOnlyShown(bare(expression)) && this.#mayShow(result)
          ? [`${use('leanContent')}($[${index}], `, expression, ', this)']
          : undefined;
      }
      case 'listener':
        return this.#listener(index, site.type, expression);
      case 'element':
        return this.#record(index, tag, expression) ?? this.#on(index, expression);
      case 'attribute': {
        const { name } = site;
        if (showFor(name, site.foreign) === showPrefixed) return undefined;
        if (isGuarded(tag, name) && !isAddress(tag, name)) return undefined;
        const value = this.#attribute(site, expression);
        if (!value) return undefined;
        if (name === 'style') return [`${use('leanStyles')}($[${index}], `, ...value, ')'];
        const last = isGuarded(tag, name) ? `, ${use('refuseScript')})` : ')';
        return [`${use('leanExpression')}($[${index}], `, ...value, `, ${JSON.stringify(name)}${last}`];
      }
      default:
        return undefined;
    }
  }

  #listener(index: number, type: string, handler: Node): Code | undefined {
    if (!isFunction(this.#resolved(handler), this.known)) return undefined;
    return [`${this.module.use('leanListen')}($[${index}], ${JSON.stringify(type)}, `, handler, ', this)'];
  }

  /** A record of properties and listeners. */
  #record(index: number, tag: string, record: Node): Code | undefined {
    const code: (string | Node)[] = [];
    for (const [key, field] of splitRecord(record, tag) ?? []) {
      const value = field['value'] as Node;
      const isListener = /^on./.test(key);
      if (isListener ? field['shorthand'] : isField(key)) return undefined;
      const made = isListener ? this.#listener(index, key.slice(2), value) : this.#property(index, key, value);
      if (!made) return undefined;
      code.push(...(code.length > 0 ? [', '] : []), ...made);
    }
    return code.length > 0 ? code : undefined;
  }

  #property(index: number, key: string, expression: Node): Code | undefined {
    const value = this.#value(expression, true);
    const target = `$[${index}][${JSON.stringify(key)}]`;
    return value && [`${this.module.use('leanProperty')}(value => { ${target} = value; }, `, ...value, ')'];
  }

  /** `on('click', handler)` without options. */
  #on(index: number, expression: Node): Code | undefined {
    const call = bare(expression);
    if (call.type !== 'CallExpression' || this.module.nameOf(call['callee']) !== 'on') return undefined;
    const [type, handler, ...options] = call['arguments'] as Node[];
    if (type?.type !== 'Literal' || typeof type['value'] !== 'string' || !handler || options.length > 0)
      return undefined;
    return this.#listener(index, type['value'], handler);
  }

  /** What a constant of `view()` is made from; other nodes themselves. */
  #resolved(expression: Node): Node {
    const node = bare(expression);
    return (node.type === 'Identifier' && this.scope.names.local?.(node)) || node;
  }

  /** Whether a constant of `view()` is used for nothing else than to be shown; other nodes are. */
  #isOnlyShown(node: Node): boolean {
    if (node.type !== 'Identifier') return true;
    return usesOf(this.module.program, node['name']).every(
      ([_, around]) => around.at(-2)?.type === 'TaggedTemplateExpression' && around.at(-1) === around.at(-2)!['quasi'],
    );
  }

  /** Whether a value is known to be markup written in place, a text, or one of them on a condition. */
  #mayShow(value: Node): boolean {
    const node = bare(value);
    if (node.type === 'ConditionalExpression')
      return this.#isPure(node['test']) && this.#mayShow(node['consequent']) && this.#mayShow(node['alternate']);
    if (node.type === 'LogicalExpression') {
      // What is falsy is no object.
      const left = pure(node['left'], this.scope);
      return (node['operator'] === '&&' ? left !== undefined : isNoObject(left)) && this.#mayShow(node['right']);
    }
    if (node.type === 'TaggedTemplateExpression') return this.#bindPiece(node);
    return isNoObject(pure(node, this.scope));
  }

  #isPure(node: Node): boolean {
    return pure(node, this.scope) !== undefined;
  }

  #bindPiece(tagged: Node): boolean {
    if (this.module.nameOf(tagged['tag']) !== 'markup') return false;
    if (this.done.has(tagged)) return true;
    const outer = this.#isPiece;
    this.#isPiece = true;
    const bound = this.bind(tagged);
    this.#isPiece = outer;
    if (!bound) return false;
    const name = `${runtime}_${this.module.templates.length + this.templates.length}`;
    this.templates.push(`const ${name} = { html: ${JSON.stringify(bound.html)} };`);
    const [open, close] = bound.before ? [`{ ${bound.before} return `, ' }'] : ['', ''];
    const parts = [`[${name}, $ => ${open}`, ...bound.code, `${close}]`];
    this.edits.push({ start: tagged.start, end: tagged.end, parts });
    return true;
  }

  /** A function that returns the value, if all of its dependencies are known. @param any whether a live one may give an object. */
  #value(expression: Node, any = false): Code | undefined {
    const fn = this.#resolved(expression);
    if (fn.type === 'ArrowFunctionExpression') {
      const result = fn['params'].length === 0 ? pureResult(fn, this.scope) : undefined;
      return isNoObject(result) || (any && result !== undefined) ? [expression] : undefined;
    }
    const value = this.#isPiece ? constant(expression, this.scope) : pure(expression, this.scope);
    // It is evaluated once, in `view()`, where an error would be the view's. An object could be a function, which is live.
    return !isSafe(value) || !isNoObject(value) ? undefined : ['(value => () => value)(', expression, ')'];
  }

  #attribute(site: Site & { kind: 'attribute' }, expression: Node): Code | undefined {
    const texts = site.statics.map(decodeAttribute);
    if (texts.length > 2 || texts.some(Boolean)) return this.#joined(site, texts);
    const value = this.#value(expression);
    if (value) return site.name === 'style' ? undefined : value;
    const result = returned(expression);
    if (!result) return undefined;
    const { type } = bare(result);
    if (site.name === 'style') return this.#styles(bare(result)) ? [expression] : undefined;
    if (site.name === 'class' && (type === 'ObjectExpression' || type === 'ArrayExpression'))
      return this.#allPure(bare(result)) ? [`() => ${this.module.use('classText')}(`, bare(result), ')'] : undefined;
    return undefined;
  }

  /** Several expressions, or text around one: one template literal. */
  #joined({ expression, name }: Site & { kind: 'attribute' }, texts: readonly string[]) {
    if (name === 'style') return undefined;
    const parts: (string | Node)[] = [`() => \`${escaped(texts[0]!)}`];
    for (const [i, text] of texts.slice(1).entries()) {
      const part = this.#expressions[expression + i]!;
      const live = returned(part);
      const result = live ?? part;
      const value = live ? pure(live, this.scope) : constant(part, this.scope);
      if (value === undefined || value & (isFlag | isNothing | mayThrow | isAny)) return undefined;
      parts.push('${', result, `}${escaped(text)}`);
    }
    return [...parts, '`'];
  }

  #allPure(node: Node): boolean {
    const values =
      node.type === 'ArrayExpression'
        ? (node['elements'] as (Node | null)[])
        : fieldsOf(node) && [...fieldsOf(node)!.values()].map(field => (field['method'] ? null : field['value']));
    return values?.every(value => value && isNoObject(pure(value, this.scope))) ?? false;
  }

  /** A record of properties, with the names that CSS gives them. */
  #styles(node: Node): boolean {
    const fields = node.type === 'ObjectExpression' ? fieldsOf(node) : undefined;
    if (!fields || !this.#allPure(node)) return false;
    for (const [name, field] of fields) {
      if (field['shorthand']) return false;
      const { start, end } = field['key'] as Node;
      this.edits.push({ start, end, parts: [JSON.stringify(cssName(name))] });
    }
    return true;
  }
}

/** The result of a live expression. */
function returned(expression: Node): Node | undefined {
  const fn = bare(expression);
  if (fn.type !== 'ArrowFunctionExpression' || fn['async'] || fn['params'].length > 0) return undefined;
  return onlyReturn(fn['body']);
}

function escaped(text: string): string {
  return text.replace(/[`\\]|\$(?=\{)/g, found => `\\${found}`);
}
