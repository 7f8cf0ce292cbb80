/** Constants of a module that contracts name: they count as if their values were written in place. */
import { type Constant, constantsOf } from '../project/module-constants.ts';
import { bare, isType, type Node, type Range, walk } from '../project/syntax.ts';

/** The module being compiled, as far as this file needs it. */
export interface ConstantsModule {
  readonly program: Node;
  readonly bound: ReadonlyMap<string, readonly Range[]>;
  nameOf(node: Node): string | undefined;
}

/** The places where a name is used, each with the nodes around it, outermost first. */
export function usesOf(program: Node, name: string): (readonly [place: Node, around: readonly Node[]])[] {
  const found: (readonly [Node, readonly Node[]])[] = [];
  walk(program, (node, parents) => {
    if (isType(node)) return false;
    if (node.type !== 'Identifier' || node['name'] !== name) return true;
    const above = parents.at(-1);
    const isName =
      ((above?.type === 'VariableDeclarator' || /^Function/.test(above?.type ?? '')) && above!['id'] === node) ||
      (above?.type === 'MemberExpression' && above['property'] === node && !above['computed']) ||
      (above && 'key' in above && above['key'] === node && !above['computed'] && !above['shorthand']);
    if (!isName && !parents.some(isType)) found.push([node, [...parents]]);
    return true;
  });
  return found;
}

const contains = ([start, end]: Range, offset: number) => start <= offset && offset < end;
const rangeOf = ({ start, end }: Node): Range => [start, end];

export class Constants {
  /** Calls in the constants that were resolved. Nothing else may need them when the contracts are compiled. */
  readonly calls = new Set<Node>();
  readonly #module: ConstantsModule;
  readonly #contracts: readonly Node[];
  readonly #constants: ReadonlyMap<string, Constant>;
  readonly #known = new Map<string, boolean>();

  /** @param contracts the calls of `contract` in the module. */
  constructor(module: ConstantsModule, contracts: readonly Node[]) {
    this.#module = module;
    this.#contracts = contracts;
    this.#constants = constantsOf(module.program['body']);
  }

  /**
   * The value of a name, or the node itself.
   * @param at the offset of the contract; a constant has to mean the same there.
   */
  resolve(node: Node, at: number): Node {
    const inner = bare(node);
    if (inner.type !== 'Identifier') return inner;
    const name = inner['name'] as string;
    const constant = this.#constants.get(name);
    if (!constant || !this.#isKnown(name, constant) || !this.#means(constant.value, at)) return inner;
    const { nameOf } = this.#module;
    walk(constant.value, found => {
      if (found.type === 'CallExpression' && nameOf.call(this.#module, found['callee'])) this.calls.add(found);
    });
    return this.resolve(constant.value, at);
  }

  #isKnown(name: string, constant: Constant): boolean {
    let is = this.#known.get(name);
    if (is === undefined) {
      // A constant that names itself is no value.
      this.#known.set(name, false);
      is = this.#module.bound.get(name)?.length === 1 && this.#isValue(name, constant);
      this.#known.set(name, is);
    }
    return is;
  }

  #isValue(name: string, { value, isExported }: Constant): boolean {
    if (value.type === 'Literal') return true;
    const uses = usesOf(this.#module.program, name);
    if (value.type === 'ObjectExpression') {
      // Other code might change the object.
      if (isExported || !uses.every(([place]) => this.#isInDeclaration(place))) return false;
    } else if (!this.#isKind(value)) return false;
    return this.#canBeRepeated(value, uses.length > 1 || !uses.every(([place]) => this.#isInContract(place)));
  }

  /** Whether evaluating it again gives the same. @param isShared whether several contracts may have it. */
  #canBeRepeated(value: Node, isShared: boolean): boolean {
    let can = true;
    walk(value, (node, parents) => {
      const { type } = node;
      if (type === 'CallExpression') {
        const name = this.#module.nameOf(node['callee']);
        const inside = parents.some(parent => /Function/.test(parent.type));
        can &&= (name !== undefined || inside) && name !== 'contract';
      } else if (type === 'TaggedTemplateExpression') can = false;
      else if (/^(?:New|Assignment|Update|Await|Yield|Import|This|Class)/.test(type))
        can &&= parents.some(parent => /Function/.test(parent.type)) && !/^(?:This|Class)/.test(type);
      // Each contract would have another default.
      else if (isShared && /^(?:Object|Array)Expression$/.test(type)) can &&= parents.at(-1)?.type !== 'Property';
      return can;
    });
    return can;
  }

  /** Whether the names in a value mean the same at an offset. */
  #means(value: Node, at: number): boolean {
    let same = true;
    walk(value, node => {
      if (node.type !== 'Identifier') return;
      const scopes = this.#module.bound.get(node['name'] as string) ?? [];
      same &&= !scopes.some(scope => contains(scope, at) && !contains(scope, value.start));
    });
    return same;
  }

  #isInContract({ start }: Node): boolean {
    return this.#contracts.some(call =>
      (call['arguments'] as Node[]).some(argument => contains(rangeOf(argument), start)),
    );
  }

  /** Whether a place is in the arguments of a contract, or in another constant that is a value. */
  #isInDeclaration(place: Node): boolean {
    if (this.#isInContract(place)) return true;
    for (const [name, constant] of this.#constants)
      if (contains(rangeOf(constant.value), place.start))
        return (
          (constant.value.type === 'ObjectExpression' || this.#isKind(constant.value)) && this.#isKnown(name, constant)
        );
    return false;
  }

  #isKind(value: Node): boolean {
    return value.type === 'CallExpression' && this.#module.nameOf(value['callee']) !== undefined;
  }
}
