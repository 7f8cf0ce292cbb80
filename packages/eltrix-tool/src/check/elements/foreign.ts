/** Checks third-party elements against their manifest, as far as the manifest describes them. */
import { existsSync, readFileSync } from 'node:fs';
import { basename, relative, resolve } from 'node:path';
import { build } from 'vite';
import type { ElementDescription, PropertyDescription } from '../../describe/description.ts';
import type { Engine } from '../../engines/index.ts';
import { bundlerConfig } from '../../project/bundler.ts';
import { sheetModules } from '../../project/sheet-modules.ts';
import { sourceError } from '../../project/source-error.ts';
import { parseSpecimens } from '../../project/specimens.ts';
import { ToolError } from '../../project/tool-error.ts';
import type { Said } from '../page/model.ts';
import { manifestDeclarations, typeOfAttribute } from '../pages/vocabulary.ts';
import { type CheckOptions, type CheckResult, checkSubjects } from './check.ts';
import { withoutOwn } from './policy.ts';
import type { Subject } from './subject.ts';

interface Declaration {
  readonly tagName: string;
  readonly name?: string;
  readonly description?: string;
  readonly attributes?: readonly {
    readonly name: string;
    readonly fieldName?: string;
    readonly type?: { readonly text: string };
    readonly default?: string;
  }[];
  readonly members?: readonly {
    readonly kind: string;
    readonly name: string;
    readonly static?: boolean;
    readonly attribute?: string;
    readonly reflects?: boolean;
    readonly readonly?: boolean;
    readonly privacy?: string;
  }[];
  readonly events?: readonly { readonly name?: string }[];
  readonly slots?: readonly { readonly name: string; readonly description?: string }[];
  readonly cssParts?: readonly { readonly name: string }[];
  readonly cssProperties?: readonly { readonly name: string }[];
  readonly formAssociated?: boolean;
}

/** Rules that a manifest does not describe, or that require more than it promises. */
const unsaid = ['bad-value', 'event-flags', 'compiled-alike', 'rendered-alike', 'budget'];

/**
 * @param manifests files, relative to the project's folder.
 * @param only the tags to check; all unless given.
 * @param modules files, relative to the project's folder, that define the elements; a package's exported module works
 *   as well.
 */
export async function checkForeign(
  root: string,
  manifests: readonly string[],
  only: readonly string[] | undefined,
  modules: readonly string[],
  engines: readonly Engine[],
  options: CheckOptions,
): Promise<CheckResult> {
  const misuse = (message: string) => new ToolError('manifest-unreadable', message, undefined, undefined, 2);
  for (const manifest of manifests)
    if (!existsSync(resolve(root, manifest)))
      throw misuse(`There is no file ${manifest}. Name the elements' custom-elements.json.`);
  if (modules.length === 0) throw misuse('Name the module that defines the elements as well: --module widgets.js.');
  const all = manifests.flatMap(manifest =>
    manifestDeclarations(readFileSync(resolve(root, manifest), 'utf8'), manifest).map(declaration => ({
      manifest,
      declaration: declaration as unknown as Declaration,
    })),
  );
  const tags = all.map(({ declaration }) => declaration.tagName);
  const unknown = only?.find(tag => !tags.includes(tag));
  if (unknown !== undefined)
    throw misuse(`No manifest has an element <${unknown}>. There are ${tags.map(tag => `<${tag}>`).join(', ')}.`);
  const wanted = all.filter(({ declaration }) => only === undefined || only.includes(declaration.tagName));
  options.progress?.('Bundling');
  const files = await bundle(root, modules);
  const findings: CheckResult['findings'][number][] = [];
  const subjects = wanted.map(({ manifest, declaration }): Subject => {
    const description = describe(declaration, manifest);
    const read = specimensOf(root, resolve(root, manifest), declaration.tagName);
    findings.push(...(read?.problems ?? []));
    const specimens = (read?.specimens ?? []).map(({ title, html, styles }) => {
      const page = withoutOwn(html);
      return { title, html: page.html, styles: [...styles, ...page.styles], scripts: [] };
    });
    const plain = {
      title: 'Default',
      html: `<${declaration.tagName}></${declaration.tagName}>`,
      styles: [],
      scripts: [],
    };
    return {
      description,
      specimens: specimens.length > 0 ? specimens : [plain],
      base: 'files/',
      foreign: true,
      unsaid: unsaidIn(declaration),
    };
  });
  // The module named like the tag comes first, so that other elements are not loaded with it.
  const modulesOf = (tag: string) =>
    [...modules.keys()]
      .sort((a, b) => Number(modules[b]!.includes(tag)) - Number(modules[a]!.includes(tag)))
      .map(at => `${foreignName(at)}.js`);
  const result = await checkSubjects(
    root,
    subjects,
    files,
    engines,
    { ...options, without: [...options.without, ...unsaid] },
    modulesOf,
  );
  return { ...result, findings };
}

/** The features that a manifest omits, which may exist nevertheless. */
function unsaidIn({ slots, events, cssParts, cssProperties }: Declaration): Said[] {
  const lists = { slots, events, parts: cssParts, cssProperties };
  return (Object.keys(lists) as Said[]).filter(name => lists[name] === undefined);
}

/** Beside the manifest. */
function specimensOf(root: string, manifest: string, tag: string) {
  const file = resolve(manifest, '..', `${tag}.specimen.html`);
  return existsSync(file)
    ? parseSpecimens(relative(root, file).replaceAll('\\', '/'), readFileSync(file, 'utf8'), tag)
    : undefined;
}

/** Bundles each module as a separate file: `foreign-0.js`, `foreign-1.js`, … */
async function bundle(root: string, modules: readonly string[]): Promise<Map<string, string | Uint8Array>> {
  const entry = 'virtual:eltrix-foreign-';
  const codeOf = (at: number) => {
    const module = modules[at]!;
    return `import ${JSON.stringify(existsSync(resolve(root, module)) ? resolve(root, module) : module)};`;
  };
  try {
    const { output } = (await build(
      await bundlerConfig(root, {
        base: './',
        plugins: [
          sheetModules(),
          {
            name: 'eltrix-foreign',
            resolveId(id, importer) {
              if (id.startsWith(entry)) return `\0${id}`;
              return importer?.startsWith(`\0${entry}`) && !id.startsWith('/')
                ? this.resolve(id, resolve(root, 'package.json'), { skipSelf: true })
                : undefined;
            },
            load: id => (id.startsWith(`\0${entry}`) ? codeOf(Number(id.slice(entry.length + 1))) : undefined),
          },
        ],
        build: {
          write: false,
          minify: false,
          modulePreload: false,
          rolldownOptions: {
            input: Object.fromEntries(modules.map((_, at) => [foreignName(at), entry + at])),
            treeshake: false,
            output: { entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
          },
        },
      }),
    )) as unknown as {
      output: ({ fileName: string } & (
        | { type: 'chunk'; code: string }
        | { type: 'asset'; source: string | Uint8Array }
      ))[];
    };
    return new Map(output.map(file => [file.fileName, file.type === 'chunk' ? file.code : file.source]));
  } catch (error) {
    throw sourceError(error, root);
  }
}

const foreignName = (at: number) => `foreign-${at}`;

function describe(declaration: Declaration, manifest: string): ElementDescription {
  const {
    tagName,
    name,
    description,
    attributes = [],
    members = [],
    events = [],
    slots = [],
    cssParts = [],
    cssProperties = [],
    formAssociated,
  } = declaration;
  const named = (list: readonly { readonly name: string }[]) => list.map(({ name }) => ({ name, about: '' }));
  const properties = attributes.flatMap((attribute): PropertyDescription[] => {
    const member = members.find(
      one =>
        one.kind === 'field' && !one.static && (one.attribute === attribute.name || one.name === attribute.fieldName),
    );
    // An attribute without a field has no known values.
    if (!member || member.readonly || (member.privacy ?? 'public') !== 'public') return [];
    const { kind, values } = typeOfAttribute(attribute.type?.text ?? 'string');
    return [
      {
        name: member.name,
        attribute: attribute.name,
        kind,
        type: attribute.type?.text ?? 'string',
        about: undefined,
        default: attribute.default,
        reflects: member.reflects ?? false,
        values,
        aliases: [],
        range: undefined,
      },
    ];
  });
  return {
    tag: tagName,
    className: name ?? '',
    file: basename(manifest),
    about: description,
    form: formAssociated ?? false,
    extends: undefined,
    shadow: 'open',
    properties,
    methods: [],
    events: events.flatMap(({ name: type }) =>
      type ? [{ type, detail: 'unknown', about: undefined, bubbles: true, composed: true, cancelable: false }] : [],
    ),
    slots: slots.map(({ name, description = '' }) => ({
      name,
      about: description,
      accepts: undefined,
      required: false,
    })),
    parts: named(cssParts),
    cssProperties: named(cssProperties),
    states: [],
    types: [],
  };
}
