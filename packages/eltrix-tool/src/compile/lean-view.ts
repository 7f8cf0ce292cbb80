/** The views of static elements ("lean" in code). */
import { analyse, type Site } from '../../../eltrix/src/view/analyse.ts';
import { showFor, showPrefixed } from '../../../eltrix/src/view/attribute.ts';
import { orderOf } from '../../../eltrix/src/view/order.ts';
import { isAddress, isGuarded } from '../../../eltrix/src/view/safety.ts';
import { bare, type Node } from '../project/syntax.ts';
import { isField, splitRecord } from './binder.ts';
import { runtime } from './declaration.ts';
import type { Code, Edit } from './edit.ts';
import { isFunction, type Known } from './infer.ts';
import { type LeanScope, readItems } from './lean-scope.ts';
import { type BoundSite, joinStatements } from './lean-statements.ts';
import { isNoObject, isSafe, LeanValues, readsDeep, returned, type ViewModule } from './lean-values.ts';
import { decodeAttribute, disputed, type PlacedSite, type StaticHtml, staticHtml } from './markup-html.ts';
import { constant, pure, pureResult, type Scope } from './pure.ts';
import { stepsCode } from './walk.ts';

export interface BoundView {
  readonly html: string;
  readonly edits: readonly Edit[];
  /** The templates that were compiled: that of the view, and those of pieces inside. */
  readonly done: ReadonlySet<Node>;
  /** The code of the pieces' templates. */
  readonly templates: readonly string[];
}

/** The code of a template. */
interface BoundTemplate {
  readonly html: string;
  /** Whether it has custom elements. */
  readonly imported: boolean;
  /** What has to be done first. */
  readonly before: Code;
  /** A list of its expressions. */
  readonly code: Code;
  /** The indexes of those that may depend on the element. */
  readonly own: readonly number[];
}

/** How the code of a template names the node of an expression. */
type NodeName = (placed: PlacedSite) => string;

const byIndex: NodeName = ({ index }) => `$[${index}]`;
const byStep: NodeName = ({ at }) => `$${at}`;

/**
 * @param isFollowed whether the graph tracks what the view reads.
 * @returns undefined for a view that does more than to show properties.
 */
export function bindView(
  view: Node,
  scope: LeanScope,
  known: Known,
  module: ViewModule,
  isFollowed: boolean,
): BoundView | undefined {
  const tagged = writtenView(view, scope, module);
  const writer = new ViewWriter(scope, known, module, isFollowed);
  const bound = tagged && writer.bind(tagged);
  if (!tagged || !bound) return undefined;
  const fn = view['value'] as Node;
  const [statement] = fn['body']['body'] as Node[];
  return {
    html: bound.html,
    edits: [
      { start: fn.start + 1, end: fn.start + 1, parts: ['$'] },
      { start: statement!.start, end: statement!.start, parts: bound.before },
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
function onlyMakes(
  { type, kind, declarations }: Node,
  scope: Scope,
  isKnown = (value: Node) => isSafe(pure(value, scope)),
): boolean {
  if (type !== 'VariableDeclaration' || kind !== 'const') return false;
  return (declarations as { id: Node; init: Node }[]).every(({ id, init }) => {
    const names = id.type === 'Identifier' ? [id] : ((id['properties'] ?? []) as Node[]).map(({ value }) => value);
    const made = names.map(name => scope.names.local?.(name));
    if (made.includes(undefined)) return false;
    return /Function/.test(bare(init).type) || made.every(value => isKnown(value!));
  });
}

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
class ViewWriter extends LeanValues {
  readonly done = new Set<Node>();
  readonly templates: string[] = [];
  #nodeName = byIndex;
  /** Whether what surely does not throw becomes straight code. */
  #isStraight = false;
  /** How many values are kept to be compared. */
  #lasts = 0;

  constructor(
    scope: LeanScope,
    known: Known,
    module: ViewModule,
    readonly isFollowed: boolean,
  ) {
    super(scope, known, module);
  }

  /** Binds the template of the view, or of a piece. */
  bind(tagged: Node): BoundTemplate | undefined {
    const made = this.#parsed(tagged);
    return made && this.#bind(tagged, made, byIndex);
  }

  #parsed(tagged: Node): StaticHtml | undefined {
    const strings = (tagged['quasi']['quasis'] as Node[]).map(part => part['value']['cooked'] as string | null);
    const made = strings.includes(null) ? undefined : parsed(strings as string[]);
    return made?.sites.some(({ site }) => isEarly(site, made.sites)) ? undefined : made;
  }

  #bind(tagged: Node, made: StaticHtml, nodeName: NodeName): BoundTemplate | undefined {
    this.done.add(tagged);
    const outer = [this.expressions, this.#nodeName, this.#isStraight, this.#lasts] as const;
    this.expressions = tagged['quasi']['expressions'];
    this.#nodeName = nodeName;
    const before: (string | Node)[] = [];
    const bound: BoundSite[] = [];
    // Where the order matters, each expression is evaluated as it is written.
    this.#lasts = 0;
    this.#isStraight = nodeName === byStep && made.sites.every(({ site }) => orderOf(site) === 0);
    try {
      for (const placed of made.sites.toSorted((a, b) => a.site.expression - b.site.expression)) {
        const { site } = placed;
        if (site.kind === 'style') {
          before.push(`${nodeName(placed)}.style.cssText = ${JSON.stringify(decodeAttribute(site.text))}; `);
          continue;
        }
        const sites = this.#boundAt(placed);
        if (!sites) return undefined;
        bound.push(...sites);
      }
      if (this.#lasts > 0) before.push(`let ${Array.from({ length: this.#lasts }, (_, at) => `$$${at}`).join(', ')}; `);
    } finally {
      [this.expressions, this.#nodeName, this.#isStraight, this.#lasts] = outer;
    }
    const all = joinStatements(bound);
    return {
      html: made.html,
      imported: made.imported,
      before,
      code: ['[', ...all.flatMap(({ code }) => [...code, ', ']), ']'],
      own: all.flatMap(({ usesElement }, at) => (usesElement ? [at] : [])),
    };
  }

  #boundAt(placed: PlacedSite): readonly BoundSite[] | undefined {
    const { site, tag } = placed;
    const expression = this.expressions[(site as { expression: number }).expression]!;
    const node = this.#nodeName(placed);
    if (site.kind === 'element') return this.#record(node, tag, expression) ?? this.#on(node, expression);
    if (site.kind === 'listener') return this.#listener(node, site.type, expression);
    const usesElement = this.usesElement(expression);
    const inline = this.#isStraight ? this.#inline(placed, node, expression) : undefined;
    if (inline) return [{ ...inline, usesElement }];
    const code = this.#codeOf(placed, node, expression);
    return code && [{ code, usesElement }];
  }

  /** A statement that shows what an expression gives, if that surely is a primitive and does not throw. */
  #inline({ site }: PlacedSite, node: string, expression: Node): Omit<BoundSite, 'usesElement'> | undefined {
    const name = site.kind === 'attribute' ? site.name : undefined;
    if (site.kind !== 'content' && !this.isPlainAttribute(site)) return undefined;
    const given = this.given(site, expression);
    if (!given || !isSafe(given.flags) || !isNoObject(given.flags) || readsDeep(expression)) return undefined;
    const shown = (value: Code): Code =>
      name === undefined
        ? [`${node}.data = ${this.module.use('asText')}(`, ...value, ')']
        : [`${this.module.use('showValue')}(${node}, `, ...value, `, ${JSON.stringify(name)})`];
    if (!given.isLive) return { code: shown(given.code), statement: 'once' };
    const last = `$$${this.#lasts++}`;
    return { code: [`if (${last} !== (${last} = `, ...given.code, ')) ', ...shown([last])], statement: 'live' };
  }

  #codeOf({ site, tag }: PlacedSite, node: string, expression: Node): Code | undefined {
    const use = (name: string) => this.module.use(name);
    switch (site.kind) {
      case 'content': {
        const value = this.value(expression);
        if (value) return [`${use('leanExpression')}(${node}, `, ...value, ')'];
        // The ends of a row are nodes that stay.
        if (tag === '' && this.#nodeName === byStep) return undefined;
        const result = returned(this.resolved(expression));
        if (!result) return this.#list(node, bare(expression));
        return this.isOnlyShown(bare(expression)) && this.#mayShow(result)
          ? [`${use('leanContent')}(${node}, `, expression, ', this)']
          : undefined;
      }
      case 'attribute': {
        const { name } = site;
        if (showFor(name, site.foreign) === showPrefixed) return undefined;
        if (isGuarded(tag, name) && !isAddress(tag, name)) return undefined;
        const value = this.attribute(site, expression);
        if (!value) return undefined;
        if (name === 'style') return [`${use('leanStyles')}(${node}, `, ...value, ')'];
        const last = isGuarded(tag, name) ? `, ${use('refuseScript')})` : ')';
        return [`${use('leanExpression')}(${node}, `, ...value, `, ${JSON.stringify(name)}${last}`];
      }
      default:
        return undefined;
    }
  }

  #listener(node: string, type: string, handler: Node): [BoundSite] | undefined {
    if (!isFunction(this.resolved(handler), this.known)) return undefined;
    const code = [`${this.module.use('leanListen')}(${node}, ${JSON.stringify(type)}, `, handler, ', this)'];
    return [{ code, usesElement: false, ...(this.#nodeName === byStep ? { statement: 'once' as const } : {}) }];
  }

  /** A record of properties and listeners. */
  #record(node: string, tag: string, record: Node): readonly BoundSite[] | undefined {
    const bound: BoundSite[] = [];
    for (const [key, field] of splitRecord(record, tag) ?? []) {
      const value = field['value'] as Node;
      const isListener = /^on./.test(key);
      if (isListener ? field['shorthand'] : isField(key)) return undefined;
      const made = isListener ? this.#listener(node, key.slice(2), value) : this.#property(node, key, value);
      if (!made) return undefined;
      bound.push(...made);
    }
    return bound.length > 0 ? bound : undefined;
  }

  #property(node: string, key: string, expression: Node): [BoundSite] | undefined {
    const value = this.value(expression, true);
    if (!value) return undefined;
    const assign = `(node, value) => { node[${JSON.stringify(key)}] = value; }`;
    const code = [`${this.module.use('leanProperty')}(${node}, ${assign}, `, ...value, ')'];
    return [{ code, usesElement: this.usesElement(expression) }];
  }

  /** `on('click', handler)` without options. */
  #on(node: string, expression: Node): [BoundSite] | undefined {
    const call = bare(expression);
    if (call.type !== 'CallExpression' || this.module.nameOf(call['callee']) !== 'on') return undefined;
    const [type, handler, ...options] = call['arguments'] as Node[];
    if (type?.type !== 'Literal' || typeof type['value'] !== 'string' || !handler || options.length > 0)
      return undefined;
    return this.#listener(node, type['value'], handler);
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
    const outer = this.isPiece;
    this.isPiece = true;
    const bound = this.bind(tagged);
    this.isPiece = outer;
    if (!bound) return false;
    const name = this.#template(bound);
    const [open, close] = bound.before.length > 0 ? [['{ ', ...bound.before, ' return '], ' }'] : [[], ''];
    const parts = [`[${name}, $ => `, ...open, ...bound.code, `${close}]`];
    this.edits.push({ start: tagged.start, end: tagged.end, parts });
    return true;
  }

  /** @returns the name of a template's constant. */
  #template({ html, imported }: BoundTemplate, isRow = false): string {
    const name = `${runtime}_${this.module.templates.length + this.templates.length}`;
    this.templates.push(
      `const ${name} = { html: ${JSON.stringify(html)}${isRow && imported ? ', imported: true' : ''} };`,
    );
    return name;
  }

  /** A keyed list: `each(() => this.items, key, row)`. */
  #list(node: string, call: Node): Code | undefined {
    if (!this.isFollowed || call.type !== 'CallExpression' || this.module.nameOf(call['callee']) !== 'each')
      return undefined;
    const [items, key, row, ...others] = call['arguments'] as Node[];
    if (!items || !key || !row || others.length > 0) return undefined;
    const given = bare(items);
    if (given.type !== 'ArrowFunctionExpression' || given['params'].length > 0) return undefined;
    if (pureResult(given, this.scope) === undefined || !isFunction(key, this.known)) return undefined;
    const bound = this.#bindRow(call, bare(row));
    if (!bound) return undefined;
    const last = bound.own.length > 0 ? `, this, [${bound.own.join(', ')}])` : ', this)';
    const parts = [items, ', ', key, ', ', row, `, ${this.#template(bound, true)}${last}`];
    return [`${this.module.use('leanList')}(${node}, `, ...parts];
  }

  /** The function of a row that makes constants, if anything, and returns markup. */
  #bindRow(call: Node, fn: Node): BoundTemplate | undefined {
    if (fn.type !== 'ArrowFunctionExpression' || fn['async'] || fn['params'].length > 2) return undefined;
    if ((fn['params'] as Node[]).some(({ type }) => type !== 'Identifier')) return undefined;
    this.scope.rows.set(fn, call);
    const statements = fn['body'].type === 'BlockStatement' ? [...(fn['body']['body'] as Node[])] : [];
    const last = statements.pop();
    const result = last ? (last['argument'] as Node | null) : (fn['body'] as Node);
    const tagged = result && bare(result);
    // In a piece, the function of a row is made again, and then called again.
    const isKnown = (value: Node) =>
      (this.isPiece ? constant(value, this.scope) : pure(value, this.scope)) !== undefined;
    if (tagged?.type !== 'TaggedTemplateExpression' || this.module.nameOf(tagged['tag']) !== 'markup') return undefined;
    if (!statements.every(statement => onlyMakes(statement, this.scope, isKnown))) return undefined;
    const made = this.#parsed(tagged);
    const bound = made && made.html !== '' ? this.#bind(tagged, made, byStep) : undefined;
    const reading = readItems(fn, this.scope);
    if (!bound || !reading) return undefined;
    this.edits.push(...reading);
    const open = `$0 => { ${stepsCode(made!.path, '$')} `;
    this.edits.push({
      start: tagged.start,
      end: tagged.end,
      parts: [open, ...bound.before, 'return ', ...bound.code, '; }'],
    });
    return bound;
  }
}
