/** The files that a publisher needs besides the scripts, by name. */
import { allDeclarations, elementDeclarations, jsxDeclarations } from './declarations.ts';
import type { ElementDescription, TypeDeclaration } from './description.ts';
import { editorData } from './editor-data.ts';
import { manifest } from './manifest.ts';
import { packageFile } from './package-file.ts';
import { referencePage } from './reference.ts';
import { serverDeclarations } from './server-declarations.ts';
import { undefinedCss } from './undefined-css.ts';

const print = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

/**
 * @param project the project's package.json, for name, version and licence.
 * @param scripts the built scripts.
 */
export function companionFiles(
  described: readonly ElementDescription[],
  project: Readonly<Record<string, unknown>>,
  scripts: readonly string[],
): Record<string, string> {
  const elements = described.map(element => ({ ...element, types: element.types.map(typeIn(described, element)) }));
  const declarations = Object.fromEntries(
    elements.map(element => [`${element.tag}.d.ts`, elementDeclarations(element)]),
  );
  return {
    ...declarations,
    'all.d.ts': allDeclarations(elements),
    'on-demand.d.ts': `${elements.map(({ tag }) => `import './${tag}.js';\n`).join('')}export {};\n`,
    ...(scripts.includes('classic.js') ? { 'classic.d.ts': 'export {};\n' } : {}),
    ...(scripts.includes('server.js') ? { 'server.d.ts': serverDeclarations } : {}),
    'react.d.ts': jsxDeclarations(elements, 'react'),
    'preact.d.ts': jsxDeclarations(elements, 'preact'),
    // A view rendered by a server is visible before the element is defined.
    'undefined.css': undefinedCss(elements.filter(({ render }) => render === false || !scripts.includes('server.js'))),
    'custom-elements.json': print(manifest(elements)),
    'html-data.json': print(editorData(elements)),
    'REFERENCE.md': referencePage(elements),
    'package.json': print(packageFile(elements, project, scripts)),
  };
}

/** Classes that are elements of the output are imported from their files. */
const typeIn =
  (elements: readonly ElementDescription[], own: ElementDescription) =>
  (type: TypeDeclaration): TypeDeclaration => {
    const { file, exportName } = type.element ?? {};
    const element = elements.find(
      other => other !== own && file !== undefined && file.endsWith(`/${other.file}`) && exportName === other.className,
    );
    if (!element) return type;
    const name = type.name === element.className ? type.name : `${element.className} as ${type.name}`;
    return { name: '', code: `import type { ${name} } from './${element.tag}.js';` };
  };
