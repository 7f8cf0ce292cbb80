/**
 * How a project uses its classes: which of them others may be made from (by `extends`, through mixins, variables, re-exports
 * and other names), and which members of elements its modules name. Values are followed by their names from module to
 * module, so a name too many may be found, and none too few.
 */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { globSync } from 'tinyglobby';
import { bare, isType, type Node, namesOf, parseModule, walk } from '../project/syntax.ts';

/**
 * What one module tells. A name after a dot is that of a member, of a namespace for example; one before a dot is that of
 * something of which a member is taken.
 */
interface Facts {
  readonly classes: ReadonlySet<string>;
  /** Names from which classes are made, and those handed to functions, which may make some. */
  readonly seeds: ReadonlySet<string>;
  /** A name, and one that its value may come from. */
  readonly sources: readonly (readonly [name: string, source: string])[];
  /** A local name, and what it is called where it comes from; a namespace is `*`. */
  readonly imports: readonly (readonly [local: string, imported: string])[];
  readonly exports: readonly (readonly [exported: string, local: string])[];
  /** What is exported on from another module, by both names. */
  readonly passed: readonly (readonly [exported: string, imported: string])[];
  /** The members of elements that it names. */
  readonly members: ReadonlySet<string>;
}

/** What is known of a project. */
export interface Usage {
  /** The classes that others may be made from, by file; `*` stands for all of a file. */
  readonly extended: ReadonlyMap<string, ReadonlySet<string>>;
  /** The members of elements that some module names. */
  readonly members: ReadonlySet<string>;
}

/** What concerns one module of it. */
export interface ModuleUsage {
  readonly extended: ReadonlySet<string>;
  readonly members: ReadonlySet<string>;
}

/** Members that an element has only where they are used. */
export const usedMembers = ['emit', 'internals', 'states', 'slotted'] as const;

/** What was found in a file, until it changes. */
const known = new Map<string, { readonly time: number; readonly facts: Facts | undefined }>();

/**
 * @param own what is known of the project, if somebody has looked.
 * @returns a function that says how a module's classes are used; it looks through the package of the module, and the
 * project, when it is first asked about one.
 */
export function usageIn(root: string, own?: Usage): (module: string, code: string) => ModuleUsage {
  const looked = new Map<string, Usage>(own && [[root, own]]);
  const within = (...folders: string[]) => {
    const key = folders.at(-1)!;
    let usage = looked.get(key);
    if (!usage) looked.set(key, (usage = usageBelow(...folders)));
    return usage;
  };
  return (module, code) => {
    const { extended, members } = relative(root, module).startsWith('..')
      ? within(root, packageOf(module))
      : within(root);
    // One that stands in no file is known by its code alone.
    const own = extended.get(module) ?? solve([[module, factsOf(module, code)]]).extended.get(module)!;
    return { extended: own, members };
  };
}

/** The folder of the nearest package.json above a module, or its own. */
function packageOf(module: string): string {
  for (let folder = dirname(module); folder !== dirname(folder); folder = dirname(folder))
    if (existsSync(join(folder, 'package.json'))) return folder;
  return dirname(module);
}

/** How classes are used in some folders. */
export function usageBelow(...folders: string[]): Usage {
  const modules = folders.flatMap(folder =>
    globSync(['**/*.{ts,js,mts,mjs,cts,cjs,tsx,jsx}'], {
      cwd: folder,
      ignore: ['**/node_modules/**', '**/dist/**', '**/*.d.ts'],
      absolute: true,
    }).map(path => [path, factsIn(path)] as const),
  );
  return solve(modules);
}

function factsIn(path: string): Facts | undefined {
  const { mtimeMs, size } = statSync(path);
  // No person writes that much.
  if (size > 1_000_000) return undefined;
  let found = known.get(path);
  if (found?.time !== mtimeMs)
    known.set(path, (found = { time: mtimeMs, facts: factsOf(path, readFileSync(path, 'utf8')) }));
  return found.facts;
}

/**
 * The facts of a module that imports from the library alone, and names its own classes only to define them, as most modules
 * of elements do: this look at its text saves a syntax tree. What it is not sure of is parsed.
 */
function seenAtOnce(code: string): Omit<Facts, 'members'> | undefined {
  if (/[^\0-\x7f]|\bexport\s*(?:default|\*|\{)|\b(?:require|import)\s*\(/.test(code)) return undefined;
  for (const [, from] of code.matchAll(/\bfrom\s*['"]([^'"]*)['"]/g))
    if (!/^eltrix(?:\/|$)/.test(from!)) return undefined;
  const classes = new Set([...code.matchAll(/\bclass\s+([\w$]+)/g)].map(([, name]) => name!));
  for (const name of classes) {
    const plain = new RegExp(`(?<![\\w$])${name.replaceAll('$', '\\$')}(?![\\w$])(?!\\.define\\()`, 'g');
    if ((code.match(plain) ?? []).length > 1) return undefined;
  }
  const exports = [...classes].map(name => [name, name] as const);
  return { classes, exports, seeds: new Set(), sources: [], imports: [], passed: [] };
}

function factsOf(path: string, code: string): Facts | undefined {
  const members = new Set(usedMembers.filter(name => code.includes(name)));
  const facts = seenAtOnce(code) ?? read(path, code);
  return facts && { ...facts, members };
}

function read(path: string, code: string): Omit<Facts, 'members'> | undefined {
  const parsed = parseModule(path, code);
  if (!parsed) return undefined;
  const classes = new Set<string>();
  const seeds = new Set<string>();
  const sources: [string, string][] = [];
  const imports: [string, string][] = [];
  const exports: [string, string][] = [];
  const passed: [string, string][] = [];
  const flows = (pattern: Node, from: Node | null | undefined) => {
    if (!from) return;
    const values = mentions(from);
    const keys = pattern.type === 'ObjectPattern' ? keysOf(pattern) : [];
    for (const name of namesOf(pattern)) for (const value of [...values, ...keys]) sources.push([name, value]);
  };
  walk(parsed.program, node => {
    if (isType(node)) return false;
    switch (node.type) {
      case 'ImportDeclaration':
        for (const { type, local, imported } of node['specifiers'] as Node[])
          imports.push([
            local['name'],
            type === 'ImportNamespaceSpecifier'
              ? '*'
              : type === 'ImportDefaultSpecifier'
                ? 'default'
                : nameOf(imported),
          ]);
        return false;
      case 'ExportNamedDeclaration':
        for (const { local, exported } of node['specifiers'] as Node[])
          (node['source'] ? passed : exports).push([nameOf(exported), nameOf(local)]);
        for (const name of declaredBy(node['declaration'])) exports.push([name, name]);
        return true;
      case 'ExportDefaultDeclaration': {
        const { declaration } = node;
        const names = declaration['id'] ? [declaration['id']['name'] as string] : mentions(declaration);
        for (const name of names) exports.push(['default', name]);
        return true;
      }
      case 'ClassDeclaration':
      case 'ClassExpression':
        if (node['id']) classes.add(node['id']['name']);
        if (node['superClass']) for (const name of mentions(node['superClass'])) seeds.add(name);
        // A decorator is given the class.
        if (node['decorators']?.length > 0 && node['id']) seeds.add(node['id']['name']);
        return true;
      case 'CallExpression':
      case 'NewExpression':
        if (!isDefinition(node)) for (const given of node['arguments'] as Node[]) add(seeds, mentions(given));
        return true;
      case 'VariableDeclarator':
        if (/^Class/.test(bare(node['init'] ?? node).type) && node['id'].type === 'Identifier')
          classes.add(node['id']['name']);
        flows(node['id'], node['init']);
        return true;
      case 'AssignmentExpression':
      case 'AssignmentPattern':
        flows(node['left'], node['right']);
        return true;
      case 'ForOfStatement':
      case 'ForInStatement':
        flows(node['left'], node['right']);
        return true;
      case 'FunctionDeclaration':
        if (node['id'] && node['body']) flows(node['id'], node['body']);
        return true;
      default:
        return true;
    }
  });
  return { classes, seeds, sources, imports, exports, passed };
}

const add = <T>(set: Set<T>, more: Iterable<T>) => {
  for (const one of more) set.add(one);
};

const nameOf = (node: Node): string => (node.type === 'Literal' ? node['value'] : node['name']);

function declaredBy(declaration: Node | null): Iterable<string> {
  if (!declaration) return [];
  if (declaration.type === 'VariableDeclaration')
    return (declaration['declarations'] as Node[]).flatMap(({ id }) => [...namesOf(id)]);
  return declaration['id']?.type === 'Identifier' ? [declaration['id']['name']] : [];
}

/** `customElements.define(…)`, `X.define()`: they make no class. */
function isDefinition({ callee }: Node): boolean {
  return callee.type === 'MemberExpression' && !callee['computed'] && callee['property']['name'] === 'define';
}

/** The names of an object pattern's keys: of members. */
function keysOf(pattern: Node): string[] {
  return (pattern['properties'] as Node[]).flatMap(({ type, key, computed }) =>
    type === 'Property' && !computed ? [`.${nameOf(key)}`] : [],
  );
}

/** The names whose values an expression may give on, as they are: what is only called with `new`, or defined, is none. */
function mentions(expression: Node): Set<string> {
  const found = new Set<string>();
  walk(expression, (node, parents) => {
    if (isType(node)) return false;
    if (node.type !== 'Identifier') return true;
    const above = parents.at(-1);
    const name = node['name'] as string;
    if (above?.type === 'MemberExpression') {
      if (above['property'] === node) found.add(above['computed'] ? name : `.${name}`);
      else if (above['computed'] || above['property']['name'] !== 'define') found.add(`${name}.`);
    } else if (above?.type === 'NewExpression' && above['callee'] === node) return true;
    else if (above?.type === 'BinaryExpression' && above['operator'] === 'instanceof') return true;
    else if (/^(?:Property|MethodDefinition|PropertyDefinition)$/.test(above?.type ?? '')) {
      if (above!['key'] !== node || above!['computed'] || above!['shorthand']) found.add(name);
    } else found.add(name);
    return true;
  });
  return found;
}

const has = (names: ReadonlySet<string>, name: string) => names.has(name) || names.has(`${name}.`);

/** Follows names until nothing new is found. */
function solve(modules: readonly (readonly [path: string, facts: Facts | undefined])[]): Usage {
  /** By what name something is imported that classes are made from; `*` is everything. */
  const wanted = new Set<string>();
  const found = new Map<string, Set<string>>(modules.map(([path, facts]) => [path, new Set(facts?.seeds)]));
  for (let before = -1, size = 0; before !== size; ) {
    before = size;
    size = 0;
    for (const [path, facts] of modules) {
      if (!facts) continue;
      const names = found.get(path)!;
      for (const [exported, local] of facts.exports) if (wanted.has(exported) || wanted.has('*')) names.add(local);
      for (const [exported, imported] of facts.passed)
        if (wanted.has(exported) || wanted.has('*')) wanted.add(imported);
      for (let count = -1; count !== names.size; ) {
        count = names.size;
        for (const [name, source] of facts.sources) if (has(names, name)) names.add(source);
      }
      for (const name of names) if (name.startsWith('.')) wanted.add(name.slice(1));
      for (const [local, imported] of facts.imports)
        if (imported === '*' ? names.has(local) : has(names, local)) wanted.add(imported);
      size += names.size;
    }
    size += wanted.size;
  }
  const extended = new Map(
    modules.map(([path, facts]) => {
      const names = found.get(path)!;
      // What cannot be read may do anything.
      return [path, facts ? new Set([...facts.classes].filter(name => has(names, name))) : new Set(['*'])];
    }),
  );
  return { extended, members: new Set(modules.flatMap(([, facts]) => [...(facts?.members ?? usedMembers)])) };
}
