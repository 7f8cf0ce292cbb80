/**
 * How a project uses its classes: which classes others may extend (directly, through mixins, variables, re-exports and
 * other names), and which members of elements its modules name. Values are followed by name from module to module, so
 * the result may contain too many names, but never too few.
 */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { basename, dirname, join, relative } from 'node:path';
import { globSync } from 'tinyglobby';
import { markFile } from '../project/output-folder.ts';
import { bare, isType, type Node, namesOf, parseModule, walk } from '../project/syntax.ts';

/**
 * The facts of one module. `.name` is a member, of a namespace for example; `name.` is a value whose member is read.
 */
interface Facts {
  readonly classes: ReadonlySet<string>;
  /** Names of classes that are extended, and of values passed to functions, which may extend them. */
  readonly seeds: ReadonlySet<string>;
  /** A name, and another name that its value may come from. */
  readonly sources: readonly (readonly [name: string, source: string])[];
  /** A local name, and the name of the export; `*` is a namespace. */
  readonly imports: readonly (readonly [local: string, imported: string])[];
  readonly exports: readonly (readonly [exported: string, local: string])[];
  /** Re-exports from another module, by both names. */
  readonly passed: readonly (readonly [exported: string, imported: string])[];
}

/** The facts of a project. */
export interface Usage {
  /** The classes that others may extend, by file; `*` means all classes of a file. */
  readonly extended: ReadonlyMap<string, ReadonlySet<string>>;
  /** The members of elements that any module names. */
  readonly members: ReadonlySet<string>;
  /** The names of all element classes; other classes may have the same names. */
  readonly names: ReadonlySet<string>;
}

/** The facts about one module. */
export interface ModuleUsage extends Omit<Usage, 'extended'> {
  readonly extended: ReadonlySet<string>;
}

/** Members that a build includes only if they are used. */
export const usedMembers = ['emit', 'internals', 'states', 'slotted', 'isFilled'] as const;

/** Facts from the text of a file, since most files need no syntax tree. */
interface Look {
  readonly time: number;
  readonly words: ReadonlySet<string>;
  readonly members: ReadonlySet<string>;
  readonly classes: ReadonlySet<string>;
  /** Whether its classes may be elements: it imports the library, or makes classes from what another module passes on. */
  readonly mayMakeElements: boolean;
  /** Whether it uses its classes only to define and export them under their names. */
  readonly isPlain: boolean;
  /** Whether it has default imports, whose names have no meaning. */
  readonly takesDefault: boolean;
  /** From the syntax tree, if that was needed. */
  facts?: Facts | 'unreadable';
}

/** The facts of each file, until it changes. */
const known = new Map<string, Look>();

/**
 * @param own the facts of the project, if they are known.
 * @returns a function that returns the facts about a module; the first call scans the project and the module's
 *   package.
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
    const { extended, members, names } = relative(root, module).startsWith('..')
      ? within(root, packageOf(module))
      : within(root);
    // A virtual module is known by its code alone.
    const own = extended.get(module) ?? solve([[module, factsOf(module, code)]]).get(module)!;
    return { extended: own, members, names };
  };
}

/** The folder of the nearest package.json above a module, or its own folder. */
function packageOf(module: string): string {
  for (let folder = dirname(module); folder !== dirname(folder); folder = dirname(folder))
    if (existsSync(join(folder, 'package.json'))) return folder;
  return dirname(module);
}

/** Scans the modules of some folders. */
export function usageBelow(...folders: string[]): Usage {
  const found = folders.flatMap(folder =>
    globSync(['**/*.{ts,js,mts,mjs,cts,cjs,tsx,jsx}', `**/${markFile}`], {
      cwd: folder,
      ignore: ['**/node_modules/**', '**/dist/**', '**/*.d.ts'],
      absolute: true,
    }),
  );
  // What was built before uses nothing.
  const built = found.filter(path => basename(path) === markFile).map(path => `${dirname(path)}/`);
  const paths = found.filter(path => !path.endsWith('.json') && !built.some(folder => path.startsWith(folder)));
  const looks = new Map(paths.map(path => [path, lookAt(path)]));
  /** The names of all element classes. */
  const names = new Set([...looks.values()].flatMap(look => (look?.mayMakeElements ? [...look.classes] : [])));
  const facts = new Map<string, Facts | undefined>();
  let hasDefault = false;
  for (let before = -1; before !== names.size + facts.size; ) {
    before = names.size + facts.size;
    for (const [path, look] of looks) {
      if (facts.has(path)) continue;
      const concerns = !look || (look.mayMakeElements && !look.isPlain) || (hasDefault && look.takesDefault);
      if (!concerns && !mentionsOther(look, names)) continue;
      const found = look && factsFrom(path, look);
      facts.set(path, found);
      if (!found) continue;
      for (const name of found.classes) names.add(name);
      const made = new Set(found.sources.map(([name]) => name));
      for (const [exported, local] of found.exports) if (exported !== local || made.has(local)) names.add(exported);
      for (const [exported, imported] of found.passed) if (exported !== imported) names.add(exported);
      hasDefault ||= names.has('default');
    }
  }
  const all = paths.map(path => [path, facts.has(path) ? facts.get(path) : seenFacts(looks.get(path)!)] as const);
  const members = new Set([...looks.values()].flatMap(look => [...(look?.members ?? usedMembers)]));
  return { extended: solve(all), members, names };
}

/** Whether a file names an element class of another file. */
function mentionsOther({ words, classes }: Look, names: ReadonlySet<string>): boolean {
  const [few, many] = names.size < words.size ? [names, words] : [words, names];
  for (const word of few) if (many.has(word) && !classes.has(word)) return true;
  return false;
}

/** @returns undefined for a file larger than any written by hand. */
function lookAt(path: string): Look | undefined {
  const { mtimeMs, size } = statSync(path);
  if (size > 1_000_000) return undefined;
  const last = known.get(path);
  if (last?.time === mtimeMs) return last;
  const look = lookInto(readFileSync(path, 'utf8'), mtimeMs);
  known.set(path, look);
  return look;
}

/** Characters of identifiers, and others beyond ASCII. */
const word = '[\\w$\\u0080-\\uffff]+';
const words = new RegExp(word, 'g');
const declarations = new RegExp(`\\bclass\\s+(${word})`, 'g');
const definitions = new RegExp(`(${word})\\.define\\(`, 'g');
const defaults = new RegExp(`\\bimport\\s+(?!type\\b)${word}|\\bdefault\\b`);

function lookInto(text: string, time: number): Look {
  // A type in HTMLElementTagNameMap does not use the class.
  const code = text.replace(/\binterface\s+HTMLElementTagNameMap\s*\{[^{}]*\}/g, '');
  const counts = new Map<string, number>();
  for (const name of code.match(words) ?? []) counts.set(name, (counts.get(name) ?? 0) + 1);
  const declared = Array.from(code.matchAll(declarations), ([, name]) => name!);
  const defined = Array.from(code.matchAll(definitions), ([, name]) => name!).filter(name => declared.includes(name));
  const named = declared.reduce((sum, name) => sum + counts.get(name)!, 0);
  return {
    time,
    words: new Set(counts.keys()),
    members: membersIn(code),
    classes: new Set(declared),
    mayMakeElements: /['"]eltrix(?:\/[\w/]+)?['"]/.test(code) || counts.has('extends'),
    isPlain: named === declared.length + defined.length && !/\bexport\s*(?:default|\{)|^\s*@/m.test(code),
    takesDefault: defaults.test(code),
  };
}

function factsFrom(path: string, look: Look): Facts | undefined {
  look.facts ??= factsOf(path, readFileSync(path, 'utf8')) ?? 'unreadable';
  return look.facts === 'unreadable' ? undefined : look.facts;
}

/** The facts of a file that needs no syntax tree. */
function seenFacts({ classes }: Look): Facts {
  const exports = [...classes].map(name => [name, name] as const);
  return { classes, exports, seeds: new Set(), sources: [], imports: [], passed: [] };
}

const membersIn = (code: string) => new Set<string>(usedMembers.filter(name => code.includes(name)));

function factsOf(path: string, code: string): Facts | undefined {
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
        // Classes of the library are not the project's.
        if (/^eltrix(?:\/|$)/.test(node['source']['value'])) return false;
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
        if (/^eltrix(?:\/|$)/.test(node['source']?.['value'] ?? '')) return false;
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
        // A decorator receives the class.
        if (node['decorators']?.length > 0 && node['id']) seeds.add(node['id']['name']);
        return true;
      case 'MemberExpression':
        // Code that has the prototype may add members, and a computed name may be that of the prototype. The member form
        // of a name, since any member of a namespace may be read without a class being changed.
        if (node['computed'] && node['object'].type === 'Identifier') seeds.add(`${node['object']['name']}.`);
        else if (!node['computed'] && node['property']['name'] === 'prototype') add(seeds, mentions(node));
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

/** `customElements.define(…)` and `X.define()` create no class. */
function isDefinition({ callee }: Node): boolean {
  return callee.type === 'MemberExpression' && !callee['computed'] && callee['property']['name'] === 'define';
}

/** The keys of an object pattern: names of members. */
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
function solve(
  modules: readonly (readonly [path: string, facts: Facts | undefined])[],
): Map<string, ReadonlySet<string>> {
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
  return new Map(
    modules.map(([path, facts]) => {
      const names = found.get(path)!;
      // What cannot be read may do anything.
      return [path, facts ? new Set([...facts.classes].filter(name => has(names, name))) : new Set(['*'])];
    }),
  );
}
