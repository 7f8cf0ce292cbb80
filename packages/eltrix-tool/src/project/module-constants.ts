import { bare, type Node } from './syntax.ts';

export interface Constant {
  readonly value: Node;
  readonly isExported: boolean;
  /** Whether its type says that it stays as it is (`as const`). */
  readonly isReadonly: boolean;
}

/** The `const` variables of a module by name. */
export function constantsOf(body: readonly Node[]): Map<string, Constant> {
  const constants = new Map<string, Constant>();
  for (const statement of body) {
    const isExported = statement.type === 'ExportNamedDeclaration';
    const declaration = isExported ? (statement['declaration'] as Node | null) : statement;
    if (declaration?.type !== 'VariableDeclaration' || declaration['kind'] !== 'const') continue;
    for (const { id, init } of declaration['declarations'] as { id: Node; init: Node | null }[])
      if (id.type === 'Identifier' && init)
        constants.set(id['name'], {
          value: bare(init),
          isExported,
          isReadonly: !id['typeAnnotation'] && isAsConst(init),
        });
  }
  return constants;
}

function isAsConst({ type, expression, typeAnnotation }: Node): boolean {
  if (type === 'TSAsExpression') return typeAnnotation.typeName?.name === 'const';
  return /^(?:TSSatisfies|Parenthesized)Expression$/.test(type) && isAsConst(expression);
}

/** The value of a constant that a node names; other nodes themselves, without TypeScript syntax around them. */
export function valueIn(constants: ReadonlyMap<string, Constant>, node: Node): Node {
  const inner = bare(node);
  return (inner.type === 'Identifier' && constants.get(inner['name'])?.value) || inner;
}
