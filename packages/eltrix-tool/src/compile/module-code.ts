/** A module being compiled: the meaning of its names, and the edits of its code. */
import MagicString from 'magic-string';
import { type Import, importsOf } from '../project/exports.ts';
import { LibraryNames, ofLibrary } from '../project/library-names.ts';
import { bare, type Node, type ParsedModule, type Range } from '../project/syntax.ts';
import { positionIn, type TextPosition } from '../project/text-position.ts';
import type { CompiledModule, CompileOptions, ModuleMap, Uncompiled } from './compiled-module.ts';
import { runtime } from './declaration.ts';
import type { Edit } from './edit.ts';
import type { Known } from './infer.ts';
import type { ModuleTypes } from './module-types.ts';
import type { ModuleValues } from './module-values.ts';
import { sourceModule } from './source-modules.ts';
import { usedMembers } from './usage.ts';

const library = /^eltrix(?:\/|$)/;

export class ModuleCode {
  readonly program: Node;
  readonly bound: ReadonlyMap<string, readonly Range[]>;
  readonly output: MagicString;
  readonly #names: LibraryNames;
  readonly uncompiled: Uncompiled[] = [];
  readonly imports: ReadonlyMap<string, Import>;
  readonly templates: string[] = [];
  /** All member names in its code. */
  readonly named = new Set<string>();
  /** Those of them that the code may assign. */
  readonly keys = new Set<string>();
  /** The names of imported sheets and of sheets in constants that are only listed in `styleSheets`. */
  readonly sheets = new Set<string>();
  usesRuntime = false;
  changed = false;
  readonly classes = new Map<Node, Known>();
  readonly types: ModuleTypes;
  readonly values: ModuleValues;

  constructor(
    readonly file: string,
    readonly code: string,
    parsed: ParsedModule,
    readonly options: CompileOptions,
  ) {
    this.program = parsed.program;
    this.bound = parsed.bound;
    this.#names = new LibraryNames(parsed, options.imported ?? ofLibrary);
    this.output = new MagicString(code);
    this.imports = importsOf(parsed.program);
    const { types, values } = sourceModule(parsed, options.modules ?? (() => undefined));
    this.types = types;
    this.values = values;
  }

  /** The export of the library that an expression names. */
  nameOf(node: Node): string | undefined {
    return this.#names.nameOf(node);
  }

  /** Whether it is TypeScript, where a value has the type of the literal that it is made from. */
  get isTyped(): boolean {
    return /\.[cm]?tsx?(?:\?|$)/.test(this.file);
  }

  isHidden(name: string, offset: number): boolean {
    return this.bound.get(name)?.some(([start, end]) => start <= offset && offset < end) === true;
  }

  text(node: Node): string {
    return this.code.slice(node.start, node.end);
  }

  position(offset: number): TextPosition {
    return positionIn(this.code, offset);
  }

  leave(node: Node, what: Uncompiled['what'], reason: string): void {
    this.uncompiled.push({ file: this.file, ...this.position(node.start), what, reason });
  }

  use(name: string): string {
    this.usesRuntime = this.changed = true;
    return `${runtime}.${name}`;
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

  get namedElsewhere(): ReadonlySet<string> {
    return this.options.usage?.members ?? new Set(usedMembers);
  }

  isOfLibrary(callee: Node): boolean {
    return library.test(this.sourceOf(callee) ?? '');
  }

  isOfPackage(callee: Node): boolean {
    return !/^\.{0,2}\/|^#/.test(this.sourceOf(callee) ?? './');
  }

  /** The module that a function, or the namespace before it, is imported from. */
  sourceOf(callee: Node): string | undefined {
    const inner = bare(callee);
    return inner.type === 'MemberExpression' ? this.sourceOf(inner['object']) : this.originOf(inner)?.from;
  }

  originOf(node: Node): Import | undefined {
    const inner = bare(node);
    if (inner.type !== 'Identifier' || this.isHidden(inner['name'], inner.start)) return undefined;
    return this.imports.get(inner['name']);
  }

  isNameOfElement(name: string): boolean {
    return this.options.usage?.names.has(name) ?? true;
  }

  /** Whether all style sheets of a class are written in place, so that no other code can change them. */
  sheetsStay(value: Node | null): boolean {
    if (!value) return true;
    const list = bare(value);
    const items = list.type === 'ArrayExpression' ? (list['elements'] as Node[]) : [list];
    return items.every(item => item && this.isOwnSheet(bare(item)));
  }

  isOwnSheet(node: Node): boolean {
    return node.type === 'Identifier' ? this.sheets.has(node['name']) : this.isSheet(node);
  }

  /** Whether a node is a sheet written in place. */
  isSheet(node: Node): boolean {
    return node.type === 'TaggedTemplateExpression' && this.nameOf(node['tag']) === 'stylesheet';
  }

  /** Imports what constants have taken from a namespace, which would keep all of the library. */
  #importAliases(): void {
    for (const { statement, names } of this.#names.aliases) {
      const list = Array.from(names, ([local, name]) => (local === name ? name : `${name} as ${local}`));
      this.output.overwrite(statement.start, statement.end, `import { ${list.join(', ')} } from 'eltrix';`);
      this.changed = true;
    }
  }

  /** The compiled module; null if nothing has changed and there is nothing to report. */
  result(): CompiledModule | null {
    this.#importAliases();
    if (!this.changed && this.uncompiled.length === 0) return null;
    if (this.usesRuntime) {
      const head = [`import * as ${runtime} from 'eltrix/compiled';`, ...this.templates].join('\n');
      // Before the first statement that runs; imports may stand anywhere.
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
}
