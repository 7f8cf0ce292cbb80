/**
 * Compiles static elements ("lean" in code): the views show nothing but attributes, so all dependencies are known and
 * the elements need neither dependency tracking nor bindings. An element with unknown parts is compiled like the
 * others.
 */

import { analyse, type Site } from '../../../eltrix/src/view/analyse.ts';
import { cssName, showFor, showPrefixed } from '../../../eltrix/src/view/attribute.ts';
import { orderOf } from '../../../eltrix/src/view/order.ts';
import { isAddress, isGuarded } from '../../../eltrix/src/view/safety.ts';
import { bare, fieldsOf, keyOf, type Node, walk } from '../project/syntax.ts';
import { type PartsModule, partsOf } from './class-parts.ts';
import type { StatedContract } from './declaration.ts';
import { isFunction, type Known } from './infer.ts';
import { type ScopeModule, scopeOf } from './lean-scope.ts';
import { type SheetModule, sheetsOf } from './lean-sheets.ts';
import { decodeAttribute, disputed, type PlacedSite, type StaticHtml, staticHtml } from './markup-html.ts';
import { constant, isFlag, isNothing, mayThrow, onlyReturn, ownMembers, pure, pureResult, type Scope } from './pure.ts';

/** The module being compiled, as far as this file needs it. */
export type LeanModule = PartsModule & ScopeModule & SheetModule;

/** One edit of the source. Nodes in `parts` keep their place, with text around them. */
export interface Edit {
  readonly start: number;
  readonly end: number;
  readonly parts: readonly (string | Node)[];
}

export interface LeanElement {
  /** The code that replaces the call of `contract`. */
  readonly call: string;
  readonly edits: readonly Edit[];
  /** The templates that were compiled. */
  readonly done: ReadonlySet<Node>;
}

/** Members that the class of a static element does not declare, since they need more of the runtime. */
const more =
  /^(?:form(?:Associated|Disabled|Reset|StateRestore|Value)|validate|internals|states|slotted|isFilled|define|emit|observedAttributes|(?:connected|disconnected|adopted|attributeChanged|connectedMove)Callback|shadowRoot|attachInternals)$/;
/** Those of them that its code may use. */
const usable = /^(?:emit|internals|states|shadowRoot)$/;

/** Parts that do not concern the view. */
const leanParts = new Set([
  'hooksPart',
  'scopePart',
  'scopeEffectsPart',
  'scopeMeasurePart',
  'attributePart',
  'propertyPart',
  'movePart',
  'internalsPart',
  'statesPart',
]);

/** @returns undefined for an element that is not static. */
export function leanElement(
  node: Node,
  contract: StatedContract,
  known: Known,
  module: LeanModule,
): LeanElement | undefined {
  if (contract.base || contract.more) return undefined;
  if (contract.members.some(({ rule }) => rule === undefined)) return undefined;
  // The class of a static element has its own `emit`.
  const sheets = sheetsOf(node, module);
  if (sheets === null) return undefined;
  const parts = new Set([...contract.parts, ...partsOf(node, module, true)]);
  parts.delete('plainEmitPart');
  // Sheets that come later are another matter.
  if (sheets?.areImported && !module.keys.has('styleSheets')) parts.delete('sheetsPart');
  if ([...parts].some(name => !leanParts.has(name))) return undefined;
  if ([...module.keys].some(name => more.test(name) && !/^(?:emit|define|internals|states)$/.test(name)))
    return undefined;
  const own = ownMembers(node);
  if (!own || [...own.keys()].some(name => more.test(name))) return undefined;
  const view = own.get('view');
  const tagged = view && writtenView(view, module);
  if (view && !tagged) return undefined;
  const done = new Set([tagged, ...(sheets?.templates ?? [])].filter(found => found !== undefined));
  if (!keepsToItself(node, done)) return undefined;
  const bound = tagged && bindView(view, tagged, scopeOf(contract, own, module), known, module);
  if (tagged && !bound) return undefined;
  const rules = contract.members.map(
    ({ name, attribute, rule }) => `${JSON.stringify(attribute === name ? name : `${name} ${attribute}`)}: ${rule}`,
  );
  const args = [
    JSON.stringify(contract.tag),
    JSON.stringify(contract.surface),
    `{ ${rules.join(', ')} }`,
    sheets?.code ?? '[]',
    // Without a view the content is shown.
    JSON.stringify(bound ? bound.html : '<slot></slot>'),
    ...(parts.size > 0 ? [`${module.use('withParts')}([${[...parts].map(name => module.use(name)).join(', ')}])`] : []),
  ];
  return {
    call: `${module.use('lean')}(${args.join(', ')})`,
    edits: [
      ...(sheets ? [{ start: sheets.member.start, end: sheets.member.end, parts: [] }] : []),
      ...(bound?.edits ?? []),
    ],
    done,
  };
}

/** Whether a class uses itself only as `this.name`, and none of the members above. */
function keepsToItself(node: Node, templates: ReadonlySet<Node>): boolean {
  let well = true;
  walk(node['body'], (inner, parents) => {
    const above = parents.at(-1)!;
    if (inner.type === 'ThisExpression')
      well &&=
        above.type === 'MemberExpression' &&
        above['object'] === inner &&
        !above['computed'] &&
        (above['property'].type === 'PrivateIdentifier' ||
          usable.test(above['property']['name'] as string) ||
          !more.test(above['property']['name'] as string));
    else if (inner.type === 'Super') well &&= above.type === 'CallExpression';
    else if (inner.type === 'TaggedTemplateExpression') well &&= templates.has(inner);
    else if (inner.type === 'Decorator' || inner.type === 'MetaProperty') well = false;
    // `$` is the name of the nodes in compiled code.
    else if (inner.type === 'Identifier') well &&= inner['name'] !== '$';
    else if (/^(?:Method|Property)Definition$/.test(inner.type) && inner['static'])
      well &&= inner['key'].type === 'PrivateIdentifier' || !more.test(keyOf(inner) ?? 'define');
    return well;
  });
  return well;
}

/** The markup that `view()` returns, if it does nothing else. */
function writtenView(view: Node, module: LeanModule): Node | undefined {
  const fn = view['value'] as Node;
  if (view.type !== 'MethodDefinition' || view['kind'] !== 'method' || view['static']) return undefined;
  if (fn['async'] || fn['generator'] || fn['params'].length > 0 || module.code[fn.start] !== '(') return undefined;
  const result = onlyReturn(fn['body']);
  return result?.type === 'TaggedTemplateExpression' && module.nameOf(result['tag']) === 'markup' ? result : undefined;
}

interface BoundView {
  readonly html: string;
  readonly edits: readonly Edit[];
}

function bindView(view: Node, tagged: Node, scope: Scope, known: Known, module: LeanModule): BoundView | undefined {
  const strings = (tagged['quasi']['quasis'] as Node[]).map(part => part['value']['cooked'] as string | null);
  if (strings.includes(null)) return undefined;
  const made = parsed(strings as string[]);
  if (!made || made.sites.some(({ site }) => isEarly(site, made.sites))) return undefined;
  const expressions = tagged['quasi']['expressions'] as Node[];
  const writer = new ExpressionWriter(expressions, scope, known, module);
  const before: string[] = [];
  const codes: (readonly (string | Node)[])[] = [];
  for (const placed of made.sites.toSorted((a, b) => a.site.expression - b.site.expression)) {
    const { site, index } = placed;
    if (site.kind === 'style') {
      before.push(`$[${index}].style.cssText = ${JSON.stringify(decodeAttribute(site.text))};`);
      continue;
    }
    const code = writer.codeOf(placed);
    if (!code) return undefined;
    codes.push(code);
  }
  const fn = view['value'] as Node;
  const [statement] = fn['body']['body'] as Node[];
  return {
    html: made.html,
    edits: [
      { start: fn.start + 1, end: fn.start + 1, parts: ['$'] },
      { start: statement!.start, end: statement!.start, parts: [before.join(' ')] },
      { start: tagged.start, end: tagged.end, parts: ['[', ...codes.flatMap(code => [...code, ', ']), ']'] },
      ...writer.edits,
    ],
  };
}

/** Whether it has to be set after another binding of its element that is written later: here all run as written. */
const isEarly = (value: Site, sites: readonly PlacedSite[]) =>
  orderOf(value) === 1 && sites.some(({ site }) => site.node === value.node && site.expression > value.expression);

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

/** Writes the code of each expression; the expressions themselves stay as written. */
class ExpressionWriter {
  readonly edits: Edit[] = [];

  constructor(
    readonly expressions: readonly Node[],
    readonly scope: Scope,
    readonly known: Known,
    readonly module: LeanModule,
  ) {}

  codeOf({ site, index, tag }: PlacedSite): readonly (string | Node)[] | undefined {
    const expression = this.expressions[(site as { expression: number }).expression]!;
    const use = (name: string) => this.module.use(name);
    switch (site.kind) {
      case 'content': {
        const value = this.#value(expression);
        return value && [`${use('leanExpression')}($[${index}], `, ...value, ')'];
      }
      case 'listener':
        if (!isFunction(expression, this.known)) return undefined;
        return [`${use('leanListen')}($[${index}], ${JSON.stringify(site.type)}, `, expression, ', this)'];
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

  /** A function that returns the value, if all of its dependencies are known and it is no object. */
  #value(expression: Node): readonly (string | Node)[] | undefined {
    const fn = bare(expression);
    if (fn.type === 'ArrowFunctionExpression')
      return fn['params'].length === 0 && pureResult(fn, this.scope) !== undefined ? [expression] : undefined;
    const value = pure(fn, this.scope);
    // It is evaluated once, in `view()`, where an error would be the view's.
    return value === undefined || value & mayThrow ? undefined : ['(value => () => value)(', expression, ')'];
  }

  #attribute(site: Site & { kind: 'attribute' }, expression: Node): readonly (string | Node)[] | undefined {
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
      const part = this.expressions[expression + i]!;
      const live = returned(part);
      const result = live ?? part;
      const value = live ? pure(live, this.scope) : constant(part, this.scope);
      if (value === undefined || value & (isFlag | isNothing | mayThrow)) return undefined;
      parts.push('${', result, `}${escaped(text)}`);
    }
    return [...parts, '`'];
  }

  #allPure(node: Node): boolean {
    const values =
      node.type === 'ArrayExpression'
        ? (node['elements'] as (Node | null)[])
        : fieldsOf(node) && [...fieldsOf(node)!.values()].map(field => (field['method'] ? null : field['value']));
    return values?.every(value => value && pure(value, this.scope) !== undefined) ?? false;
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
