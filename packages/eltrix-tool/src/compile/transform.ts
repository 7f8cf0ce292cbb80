/** Compiles one module: templates, sheets and contracts become what they need when they run. */
import MagicString from 'magic-string';
import { analyse, MarkupError, type Namespace } from '../../../eltrix/src/view/analyse.ts';
import { lead, listedSheet, sheetImports } from '../project/sheet-modules.ts';
import { bare, keyOf, type Node, parseModule, type Range, walk } from '../project/syntax.ts';
import { isOther, nameIn, partsOf } from './class-parts.ts';
import {
  type CompiledModule,
  type CompileOptions,
  concerned,
  type ModuleMap,
  SourceMistake,
  type Uncompiled,
} from './compiled-module.ts';
import { runtime, type StatedContract, statedContract, Unknowable } from './declaration.ts';
import { isPlainType, type Known, unknown } from './infer.ts';
import { type Edit, leanElement } from './lean.ts';
import { disputed, type StaticHtml, staticHtml } from './markup-html.ts';
import { cssOf, looseHole, minifyCss, minifyPieces, templateText } from './stylesheet.ts';
import { templateCode } from './template-code.ts';
import { usedMembers } from './usage.ts';

const library = /^eltrix(?:\/|$)/;
/** @returns null for a module that has nothing to do with elements. */
export function compileModule(file: string, code: string, options: CompileOptions = {}): CompiledModule | null {
  if (!concerned.test(code)) return null;
  const parsed = parseModule(file, code);
  if (!parsed) return null;
  return new ModuleCompiler(file, code, parsed.program, parsed.bound, options).compile();
}

class ModuleCompiler {
  readonly output: MagicString;
  readonly uncompiled: Uncompiled[] = [];
  /** What the module calls the library's exports. */
  readonly imported = new Map<string, string>();
  /** All names that imports bind, and from where. */
  readonly imports = new Map<string, string>();
  readonly templates: string[] = [];
  /** The members that its code names, of whatever. */
  readonly named = new Set<string>();
  /** Those among them to which something may be given. */
  readonly keys = new Set<string>();
  /** The names of sheets that are files. */
  readonly sheets = new Set<string>();
  usesRuntime = false;
  changed = false;
  readonly classes = new Map<Node, Known>();

  constructor(
    readonly file: string,
    readonly code: string,
    readonly program: Node,
    readonly bound: ReadonlyMap<string, readonly Range[]>,
    readonly options: CompileOptions,
  ) {
    this.output = new MagicString(code);
  }

  compile(): CompiledModule | null {
    this.readImports();
    const tagged: [Node, readonly Node[]][] = [];
    const classes: Node[] = [];
    const contracts: Node[] = [];
    walk(this.program, (node, parents) => {
      const found = nameIn(node, parents.at(-1));
      if (found) this.named.add(found.name);
      if (found?.key) this.keys.add(found.name);
      if (node.type === 'TaggedTemplateExpression') tagged.push([node, [...parents]]);
      else if (/^Class/.test(node.type) && node['superClass']) classes.push(node);
      else if (node.type === 'CallExpression' && this.nameOf(node['callee']) === 'contract') contracts.push(node);
    });
    const stated = new Map<Node, StatedContract>();
    for (const call of contracts) {
      try {
        stated.set(
          call,
          statedContract(
            call,
            node => this.text(node),
            name => this.nameAt(name, call.start),
            this.options.places,
          ),
        );
      } catch (error) {
        if (!(error instanceof Unknowable)) throw error;
        this.leave(error.node, 'contract', error.message);
      }
    }
    this.readSheets();
    for (const node of classes) this.classes.set(node, this.factsOf(node, stated));
    const done = new Set<Node>();
    for (const [call, contract] of stated) {
      const owner = classes.find(c => bare(c['superClass']) === call);
      const lean = owner && this.leanOf(owner, contract);
      if (!lean) {
        this.compileContract(call, contract, owner);
        continue;
      }
      this.changed = true;
      this.output.overwrite(call.start, call.end, lean.call);
      for (const edit of lean.edits) this.edit(edit);
      for (const node of lean.done) done.add(node);
    }
    for (const node of classes) this.compileClass(node, stated);
    for (const [node, parents] of tagged) {
      if (done.has(node)) continue;
      const tag = bare(node['tag']);
      if (this.nameOf(tag) === 'stylesheet') this.compileSheet(node, parents);
      else if (this.nameOf(tag) === 'markup') this.compileMarkup(node, parents, 'html');
      else if (tag.type === 'MemberExpression' && this.nameOf(tag['object']) === 'markup')
        this.compileMarkup(node, parents, tag['property']['name'] as Namespace);
    }
    return this.result();
  }

  result(): CompiledModule | null {
    if (!this.changed && this.uncompiled.length === 0) return null;
    if (this.usesRuntime) {
      const head = [`import * as ${runtime} from 'eltrix/compiled';`, ...this.templates].join('\n');
      // Before all else that runs: imports may stand anywhere.
      const body = this.program['body'] as Node[];
      const first = body.find(({ directive }) => typeof directive !== 'string');
      this.output.appendLeft(first?.start ?? this.code.length, `${head}\n`);
    }
    return {
      code: this.output.toString(),
      map: { ...this.output.generateMap({ source: this.file, hires: 'boundary', includeContent: true }) } as ModuleMap,
      uncompiled: this.uncompiled,
    };
  }

  readImports(): void {
    for (const node of this.program['body'] as Node[]) {
      if (node.type !== 'ImportDeclaration' || node['importKind'] === 'type') continue;
      const source = node['source']['value'] as string;
      for (const specifier of node['specifiers'] as Node[]) {
        const local = specifier['local']['name'] as string;
        this.imports.set(local, source);
        if (source === 'eltrix' && specifier.type === 'ImportSpecifier') {
          const { imported } = specifier;
          this.imported.set(local, imported.type === 'Literal' ? imported['value'] : imported['name']);
        }
      }
    }
  }

  /** The library's name of what an identifier stands for. */
  nameOf(node: Node): string | undefined {
    const inner = bare(node);
    return inner.type === 'Identifier' ? this.nameAt(inner['name'], inner.start) : undefined;
  }

  /** The same for a name at an offset: it may be bound a second time there. */
  nameAt(name: string, offset: number): string | undefined {
    return this.isHidden(name, offset) ? undefined : this.imported.get(name);
  }

  isHidden(name: string, offset: number): boolean {
    return this.bound.get(name)?.some(([start, end]) => start <= offset && offset < end) === true;
  }

  text(node: Node): string {
    return this.code.slice(node.start, node.end);
  }

  position(offset: number): { line: number; column: number } {
    const before = this.code.slice(0, offset).split('\n');
    return { line: before.length, column: before.at(-1)!.length + 1 };
  }

  leave(node: Node, what: Uncompiled['what'], reason: string): void {
    this.uncompiled.push({ file: this.file, ...this.position(node.start), what, reason });
  }

  use(name: string): string {
    this.usesRuntime = this.changed = true;
    return `${runtime}.${name}`;
  }

  isImported(name: string): boolean {
    return this.imports.has(name);
  }

  edit({ start, end, parts }: Edit): void {
    if (start === end) return void this.output.appendLeft(start, parts.join(''));
    let at = start;
    let text = '';
    for (const part of parts) {
      if (typeof part === 'string') {
        text += part;
        continue;
      }
      this.output.overwrite(at, part.start, text);
      at = part.end;
      text = '';
    }
    if (text) this.output.overwrite(at, end, text);
    else this.output.remove(at, end);
  }

  // Contracts and classes.

  /** What an element needs that shows only its own attributes; undefined for one that needs more. */
  leanOf(node: Node, contract: StatedContract) {
    const name = node['id']?.['name'] as string | undefined;
    if (name === undefined || this.mayBeExtended(node) || node['decorators']?.length > 0) return undefined;
    return leanElement(node, contract, this.classes.get(node)!, this);
  }

  /** Whether other classes may be made from a class, and give what it reads another meaning. */
  mayBeExtended(node: Node): boolean {
    const extended = this.options.usage?.extended;
    const name = node['id']?.['name'] as string | undefined;
    return !extended || name === undefined || extended.has(name) || extended.has('*');
  }

  isGlobal(name: string): boolean {
    return !this.bound.has(name) && !this.imports.has(name);
  }

  factsOf(node: Node, stated: ReadonlyMap<Node, StatedContract>): Known {
    const isGlobal = (name: string) => this.isGlobal(name);
    const own = node['body']['body'] as Node[];
    const isOpen = own.some(member => member.type !== 'StaticBlock' && !member['static'] && isOfAnyName(member));
    if (isOpen || this.mayBeExtended(node)) return { ...unknown, isGlobal };
    const contract = stated.get(bare(node['superClass']));
    const methods = new Set<string>();
    const plain = new Set(contract?.members.filter(member => member.plain).map(({ name }) => name));
    for (const member of own) {
      const name = keyOf(member);
      if (name === undefined || member['static']) continue;
      plain.delete(name);
      methods.delete(name);
      if (member.type !== 'MethodDefinition') continue;
      if (member['kind'] === 'method') methods.add(name);
      else if (member['kind'] === 'get' && isPlainType(member['value']['returnType'])) plain.add(name);
    }
    return { isPlainMember: name => plain.has(name), isMethod: name => methods.has(name), isGlobal };
  }

  compileContract(call: Node, contract: StatedContract, owner: Node | undefined): void {
    const parts = new Set([...contract.parts, ...(owner ? partsOf(owner, this, contract.events.size > 0) : [])]);
    if (parts.has('emitPart')) parts.delete('plainEmitPart');
    const args = [
      ...(contract.base ? [contract.base] : []),
      JSON.stringify(contract.tag),
      JSON.stringify(contract.surface),
      `{ ${contract.members.map(({ code }) => code).join(', ')} }`,
      `[${[...parts].map(name => `${runtime}.${name}`).join(', ')}]`,
      ...(contract.more ? [contract.more] : []),
    ];
    const maker = this.use(contract.base ? 'elementFrom' : 'element');
    this.output.overwrite(call.start, call.end, `${maker}(${args.join(', ')})`);
  }

  compileClass(node: Node, stated: ReadonlyMap<Node, StatedContract>): void {
    if (stated.has(bare(node['superClass'])) || isOther(node, name => this.isGlobal(name))) return;
    // Whether it is an element is known when it runs.
    const parts = partsOf(node, this, false);
    if (parts.size === 0) return;
    const list = [...parts].map(name => `${runtime}.${name}`).join(', ');
    this.output.appendLeft(node['body'].start + 1, ` static { ${this.use('addParts')}(this, [${list}]); }`);
  }

  get namedElsewhere(): ReadonlySet<string> {
    return this.options.usage?.members ?? new Set(usedMembers);
  }

  isOfLibrary(callee: Node): boolean {
    return library.test(this.sourceOf(callee) ?? '');
  }

  isOfPackage(callee: Node): boolean {
    return !/^\.{0,2}\/|^#/.test(this.sourceOf(callee) ?? './');
  }

  /** Where a function, or the namespace that it is looked up in, is imported from. */
  sourceOf(callee: Node): string | undefined {
    const inner = bare(callee);
    if (inner.type === 'MemberExpression') return this.sourceOf(inner['object']);
    if (inner.type !== 'Identifier' || this.isHidden(inner['name'], inner.start)) return undefined;
    return this.imports.get(inner['name']);
  }

  /** Whether all sheets of a class are written where they are listed, so that nobody can change them. */
  sheetsStay(value: Node | null): boolean {
    if (!value) return true;
    const list = bare(value);
    const items = list.type === 'ArrayExpression' ? (list['elements'] as Node[]) : [list];
    return items.every(item => item && this.isOwnSheet(bare(item)));
  }

  isOwnSheet(node: Node): boolean {
    if (node.type === 'Identifier') return this.sheets.has(node['name']);
    return node.type === 'TaggedTemplateExpression' && this.nameOf(node['tag']) === 'stylesheet';
  }

  /** Sheets that are files, and of which nothing is asked but to be listed. */
  readSheets(): void {
    for (const declaration of sheetImports(this.program)) {
      const [specifier, ...others] = declaration['specifiers'] as Node[];
      if (specifier?.type !== 'ImportDefaultSpecifier' || others.length > 0) continue;
      const name = specifier['local']['name'] as string;
      if (this.bound.has(name) || !this.isOnlyListed(name)) continue;
      this.sheets.add(name);
      this.changed = true;
      lead(this.output, declaration, listedSheet);
    }
  }

  isOnlyListed(name: string): boolean {
    let only = true;
    walk(this.program, (node, parents) => {
      if (node.type === 'ImportDeclaration') return false;
      if (node.type !== 'Identifier' || node['name'] !== name) return only;
      const list = parents.findLast(parent => bare(parent) === parent && parent.type !== 'ArrayExpression');
      const value = list?.['value'] as Node | undefined;
      only &&=
        list?.type === 'PropertyDefinition' &&
        list['static'] &&
        keyOf(list) === 'styleSheets' &&
        value !== undefined &&
        (bare(value) === node || parents.at(-1) === bare(value));
      return only;
    });
    return only;
  }

  compileSheet(node: Node, parents: readonly Node[]): void {
    const quasi = node['quasi'] as Node;
    const own = parents.find(
      parent => parent.type === 'PropertyDefinition' && parent['static'] && keyOf(parent) === 'styleSheets',
    );
    const stays = own && this.sheetsStay(own['value']);
    const quasis = quasi['quasis'] as Node[];
    if (quasis.length > 1) {
      const small = minifyPieces(quasis.map(cssOf));
      if (small) {
        this.changed = true;
        // The text of a piece stands between the marks of its holes.
        for (const [at, { start, end }] of quasis.entries())
          if (start < end) this.output.overwrite(start, end, templateText(small[at]!));
      } else this.leave(node, 'stylesheet', looseHole);
      if (!stays) return;
      const { start, end } = node['tag'] as Node;
      this.output.overwrite(start, end, `new ${this.use('BuiltSheet')}(${this.use('sheetText')}`);
      this.output.appendRight(node.end, ')');
      return;
    }
    const { css, problem } = minifyCss(cssOf(quasis[0]!));
    if (problem) this.leave(node, 'stylesheet', `it is kept as written: ${problem}`);
    const text = JSON.stringify(css);
    if (stays) this.output.overwrite(node.start, node.end, `new ${this.use('BuiltSheet')}(${text})`);
    else if (!problem) {
      this.changed = true;
      this.output.overwrite(quasi.start, quasi.end, `\`${templateText(css)}\``);
    }
  }

  // Markup.

  compileMarkup(node: Node, parents: readonly Node[], namespace: Namespace): void {
    const quasi = node['quasi'] as Node;
    const quasis = quasi['quasis'] as Node[];
    const expressions = quasi['expressions'] as Node[];
    const strings = quasis.map(part => part['value']['cooked'] as string | null);
    if (strings.includes(null)) return this.leave(node, 'markup', 'it has an escape that stands for nothing');
    let made: StaticHtml;
    try {
      const analysis = analyse(strings as string[], namespace);
      const reason = disputed(analysis.html);
      if (reason) return this.leave(node, 'markup', reason);
      made = staticHtml(analysis.html, analysis.sites, namespace);
    } catch (error) {
      if (!(error instanceof MarkupError)) throw error;
      if (this.options.leaveMistakes) return this.leave(node, 'markup', error.message);
      throw this.mistake(error, quasis);
    }
    const known = this.knownAt(parents);
    const name = `${runtime}_${this.templates.length}`;
    const places = this.options.places === true;
    const { code, values } = templateCode(
      made,
      { strings: strings as string[], expressions, namespace, places },
      known,
      this,
    );
    this.templates.push(`const ${name} = /* @__PURE__ */ ${code};`);
    const [first, last] = [values[0], values.at(-1)];
    if (!first || !last) {
      this.output.overwrite(node.start, node.end, `${runtime}.piece(${name}, [])`);
      return;
    }
    // The expressions stay where they are, so that positions and what is compiled inside them are kept.
    // A sequence is one value.
    const [open, close] = [
      (value: Node) => (isSequence(value) ? '(' : ''),
      (value: Node) => (isSequence(value) ? ')' : ''),
    ];
    this.output.overwrite(node.start, first.start, `${runtime}.piece(${name}, [${open(first)}`);
    for (let i = 1; i < values.length; i++) {
      const [before, value] = [values[i - 1]!, values[i]!];
      this.output.overwrite(before.end, value.start, `${close(before)}, ${open(value)}`);
    }
    this.output.overwrite(last.end, node.end, `${close(last)}])`);
  }

  /** What `this` is known to be where an expression stands. */
  knownAt(parents: readonly Node[]): Known {
    for (let i = parents.length - 1; i >= 0; i--) {
      const { type } = parents[i]!;
      const isMethod = type === 'FunctionExpression' && parents[i - 1]?.type === 'MethodDefinition';
      if (type === 'StaticBlock' || (/^(?:Method|Property)Definition$/.test(type) && parents[i]!['static'])) break;
      if (type === 'FunctionDeclaration' || (type === 'FunctionExpression' && !isMethod)) break;
      const facts = this.classes.get(parents[i]!);
      if (facts) return facts;
      if (/^Class/.test(type) && type !== 'ClassBody') break;
    }
    return { ...unknown, isGlobal: name => this.isGlobal(name) };
  }

  mistake(error: MarkupError, quasis: readonly Node[]): SourceMistake {
    const part = quasis[Math.min(error.hole, quasis.length - 1)]!;
    return new SourceMistake(error.code, error.message.replace(/^\([a-z-]+\): /, ''), {
      file: this.file,
      line: this.position(part.end).line,
      column: this.position(part.end).column,
    });
  }
}

const isSequence = (node: Node) => node.type === 'SequenceExpression';

/** Whether a member's name is known only when the module runs. */
const isOfAnyName = (member: Node) => keyOf(member) === undefined && member['key']?.type !== 'PrivateIdentifier';
