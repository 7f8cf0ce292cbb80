/** The syntax of element classes: in sources, and in emitted declarations. */
import { bare, keyOf, type Node, walk } from '../project/syntax.ts';
import type { TypeModule, TypeNames } from './type-names.ts';

const hooks = new Set(
  'view assembled connected disconnected moved adopted attributeChanged propertyChanged formAssociated formDisabled formReset formStateRestore formValue validate connectedCallback disconnectedCallback adoptedCallback attributeChangedCallback connectedMoveCallback'.split(
    ' ',
  ),
);

/** The call of `contract()` with a tag, also inside mixins. */
export function contractCall(above: Node): Node | undefined {
  const call = bare(above);
  if (call.type !== 'CallExpression') return undefined;
  const [tag, ...more] = call['arguments'] as Node[];
  if (tag && more.length > 0 && bare(tag).type !== 'CallExpression') return call;
  return tag ? contractCall(tag) : undefined;
}

/** The type of what a class extends, as emitted: `declare const X_base: ContractClass<ElementOf<{ … }>>`. */
export function baseType(body: readonly Node[], { superClass }: Node): Node | undefined {
  if (superClass?.type !== 'Identifier') return undefined;
  for (const statement of body) {
    if (statement.type !== 'VariableDeclaration') continue;
    for (const { id } of statement['declarations'] as { id: Node }[])
      if (id['name'] === superClass['name']) return id['typeAnnotation']?.['typeAnnotation'] as Node | undefined;
  }
  return undefined;
}

/** The type of the declaration in `ElementOf<{ … }>`. */
export function declarationIn(base: Node | undefined): Node | undefined {
  let found: Node | undefined;
  if (base)
    walk(base, node => {
      const name = node['qualifier'] ?? node['typeName'];
      if (name?.['name'] === 'ElementOf') found ??= (node['typeArguments']?.['params'] as Node[] | undefined)?.[0];
    });
  return found;
}

/** The members of instances of a type with constructors. */
export function instanceMembers(type: Node): Node[] {
  if (type.type === 'TSIntersectionType') return (type['types'] as Node[]).flatMap(instanceMembers);
  if (type.type === 'TSParenthesizedType') return instanceMembers(type['typeAnnotation']);
  if (type.type === 'TSConstructorType') return literalMembers(type['returnType']?.['typeAnnotation']);
  if (type.type !== 'TSTypeLiteral') return [];
  return (type['members'] as Node[]).flatMap(member =>
    member.type === 'TSConstructSignatureDeclaration' ? literalMembers(member['returnType']?.['typeAnnotation']) : [],
  );
}

function literalMembers(type: Node | undefined): Node[] {
  if (type?.type === 'TSIntersectionType') return (type['types'] as Node[]).flatMap(literalMembers);
  return type?.type === 'TSTypeLiteral' ? (type['members'] as Node[]) : [];
}

/** The classes that mixins around a contract make: `Loud(contract(…))`. */
export function mixinsOf(
  source: TypeModule,
  read: (file: string) => TypeModule,
  names: TypeNames,
  exportName: string,
): { readonly members: readonly Node[]; readonly module: TypeModule }[] {
  const found = [];
  let call = classNamed(source.body, exportName)?.['superClass'] as Node | undefined;
  while (call && bare(call).type === 'CallExpression') {
    const { callee, arguments: [inner] = [] } = bare(call) as unknown as { callee: Node; arguments?: Node[] };
    const mixin =
      bare(callee).type === 'Identifier' ? functionNamed(bare(callee)['name'], source, read, names) : undefined;
    if (mixin) {
      let made: Node | undefined;
      walk(mixin.fn['body'], node => {
        if (/^Class/.test(node.type)) made ??= node;
        return made === undefined;
      });
      if (made) found.push({ members: membersOf(made), module: mixin.module });
    }
    call = inner;
  }
  return found;
}

/** A function of a module, or of the one that it is imported from. */
function functionNamed(
  name: string,
  module: TypeModule,
  read: (file: string) => TypeModule,
  names: TypeNames,
): { readonly fn: Node; readonly module: TypeModule } | undefined {
  for (const statement of module.body) {
    if (statement.type === 'ImportDeclaration') {
      const specifier = (statement['specifiers'] as Node[]).find(({ local }) => local['name'] === name);
      const file = specifier && names.resolve(statement['source']['value'], module.file);
      if (file) return functionNamed(specifier['imported']?.['name'] ?? 'default', read(file), read, names);
      continue;
    }
    const declaration = (statement['declaration'] as Node | null) ?? statement;
    const isDefault = statement.type === 'ExportDefaultDeclaration' && name === 'default';
    if (/Function/.test(declaration.type) && (isDefault || declaration['id']?.['name'] === name))
      return { fn: declaration, module };
    if (declaration.type !== 'VariableDeclaration') continue;
    for (const { id, init } of declaration['declarations'] as { id: Node; init: Node | null }[])
      if (id['name'] === name && init && /Function/.test(bare(init).type)) return { fn: bare(init), module };
  }
  return undefined;
}

/** The type of a member of a type literal. */
export function memberType(type: Node | undefined, name: string): Node | undefined {
  if (type?.type !== 'TSTypeLiteral') return undefined;
  const member = (type['members'] as Node[]).find(
    ({ type, key }) => type === 'TSPropertySignature' && (key['name'] ?? key['value']) === name,
  );
  return member?.['typeAnnotation']?.['typeAnnotation'] as Node | undefined;
}

export const membersOf = (node: Node | undefined) => (node?.['body']['body'] ?? []) as Node[];
export const nameOf = (member: Node) => `${member['static'] ? 'static ' : ''}${keyOf(member)}`;
export const isOverload = (member: Node) => member['value']?.type === 'TSEmptyBodyFunctionExpression';
export const paramsOf = (member: Node) => ((member['value'] ?? member)['params'] ?? []) as Node[];

/** Members that the library calls. */
const ownStatics = new Set(['styleSheets', 'observedAttributes', 'formAssociated', 'define']);

/** Whether a member is public. */
export function isPublic(member: Node): boolean {
  const name = keyOf(member);
  if (name === undefined || !/^(?:(?:Method|Property)Definition|TS(?:Method|Property)Signature)$/.test(member.type))
    return false;
  if (member['kind'] === 'constructor' || name.startsWith('_') || member['declare']) return false;
  if (/^(?:private|protected)$/.test(member['accessibility'] ?? '')) return false;
  return member['static'] ? !ownStatics.has(name) : !hooks.has(name);
}

export function classNamed(body: readonly Node[], exportName: string): Node | undefined {
  for (const statement of body) {
    const declaration = (statement['declaration'] as Node | null) ?? statement;
    const isDefault = statement.type === 'ExportDefaultDeclaration' && exportName === 'default';
    if (/^Class/.test(declaration.type) && (isDefault || declaration['id']?.['name'] === exportName))
      return declaration;
    if (declaration.type !== 'VariableDeclaration') continue;
    for (const { id, init } of declaration['declarations'] as { id: Node; init: Node | null }[])
      if (id['name'] === exportName && init && /^Class/.test(bare(init).type)) return bare(init);
  }
  return undefined;
}

/** The comment before a member: its first sentences, and all of it. */
export function commentBefore(
  member: Node,
  code: string,
): { readonly about: string | undefined; readonly comment?: string } {
  const found = /\/\*\*((?:(?!\*\/)[^])*)\*\/\s*$/.exec(code.slice(0, member.start))?.[1];
  const comment = found
    ?.replaceAll('\r\n', '\n')
    .replace(/^[^\S\n]*\*[^\S\n]?/gm, '')
    .trim();
  if (!comment) return { about: undefined };
  const about = comment.split(/^\s*@/m)[0]!.replace(/\s+/g, ' ').trim();
  return { about: about || undefined, ...(comment === about ? {} : { comment }) };
}
