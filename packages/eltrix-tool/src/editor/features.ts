/** Editor features: completion, hover, findings, definitions, references. */

import { readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { glob } from 'tinyglobby';
import {
  type CompletionItem,
  CompletionItemKind,
  type Diagnostic,
  DiagnosticSeverity,
  type Hover,
  InsertTextFormat,
  type Location,
  type Range,
  type TextEdit,
} from 'vscode-languageserver';
import { TextDocument } from 'vscode-languageserver-textdocument';
import { checkPage } from '../check/pages/check-page.ts';
import { checkSource, sourceFacts } from '../check/source.ts';
import { undefinedTags } from '../check/undefined-tags.ts';
import type { ElementDescription } from '../describe/description.ts';
import { code, prose } from '../describe/markdown.ts';
import { writtenName } from '../project/css-tokens.ts';
import type { Finding } from '../project/finding.ts';
import { importedBy } from '../project/passed-names.ts';
import { textOf } from '../project/seen.ts';
import { classPlace, type FilePlace } from './class-place.ts';
import { completeCss } from './complete-css.ts';
import type { ContractName, Sighting } from './contract-name.ts';
import { declaringTags, isSame } from './declared-by.ts';
import { type HtmlPlace, placeAt } from './html-place.ts';
import { aboutOf, kindNames, problemOfName } from './name-rules.ts';
import { nameAt, namesIn } from './names.ts';
import type { EditorProject } from './project.ts';
import { isPage, isSheet, isSource, type Region, regionAt } from './regions.ts';
import { sheetAt } from './sheet-at.ts';

type Position = Range['start'];

/** A document of a project, with a position. */
interface At {
  readonly region: Region;
  /** The HTML of the document, with the same offsets. */
  readonly document: TextDocument;
  readonly offset: number;
  readonly place: HtmlPlace | undefined;
}

const fileOf = (project: EditorProject, uri: string) =>
  relative(project.root, fileURLToPath(uri)).replaceAll('\\', '/');

function lookAt(project: EditorProject, document: TextDocument, position: Position): At | undefined {
  const file = fileOf(project, document.uri);
  const offset = document.offsetAt(position);
  const region = regionAt(file, document.getText(), offset, importedBy(join(project.root, file)));
  if (!region) return undefined;
  const html = TextDocument.create(document.uri, 'html', document.version, region.text);
  const parsed = project.html.parseHTMLDocument(html);
  return { region, document: html, offset, place: placeAt(project.html, html, parsed, offset) };
}

/** A range in a document, as offsets. */
const rangeOf = (document: TextDocument, start: number, end: number): Range => ({
  start: document.positionAt(start),
  end: document.positionAt(end),
});

/** The end of the name that continues at an offset. */
function endOfName(document: TextDocument, offset: number): number {
  const [rest] = /^[\p{ID_Continue}-]*/u.exec(document.getText().slice(offset))!;
  return offset + rest.length;
}

// Completion.

export function complete(project: EditorProject, document: TextDocument, position: Position): CompletionItem[] {
  const offset = document.offsetAt(position);
  const sheet = sheetAt(project, fileURLToPath(document.uri), document.getText(), offset);
  if (sheet) {
    const { items, typed } = completeCss(project, sheet);
    const range = rangeOf(document, offset - typed, endOfName(document, offset));
    const written = (name: string) => writtenName(name).replaceAll('\\', isSource(document.uri) ? '\\\\' : '\\');
    return items.map(item => ({ ...item, textEdit: { range, newText: written(item.label) } }));
  }
  const at = lookAt(project, document, position);
  if (!at) return [];
  const own = completeOwn(project, at);
  if (own) return own;
  const { html } = project;
  const { items } = html.doComplete(at.document, position, html.parseHTMLDocument(at.document));
  return items.map(item => {
    if (!project.element(item.label)) return item;
    const { documentation: _, ...short } = item;
    return short;
  });
}

/** Slots of the parent element, parts, and events of an element in markup. */
function completeOwn(project: EditorProject, { place, document, region, offset }: At): CompletionItem[] | undefined {
  if (!place) return undefined;
  if (place.value && place.attribute?.name === 'slot') {
    const parent = place.parent && project.element(place.parent);
    if (!parent) return undefined;
    const range = rangeOf(document, place.value.start, place.value.end);
    return parent.slots
      .filter(({ name }) => name !== '')
      .map(({ name, about, accepts }) => ({
        label: name,
        kind: CompletionItemKind.Value,
        detail: accepts ? `takes ${accepts}` : 'slot',
        documentation: about,
        textEdit: { range, newText: name },
      }));
  }
  const element = project.element(place.tag);
  const ofOwner = region.isSource && completeOfOwner(project, fileOf(project, document.uri), place, element, offset);
  if (ofOwner) {
    const [named, typed] = ofOwner;
    const range = rangeOf(document, offset - typed.length, endOfName(document, offset));
    return named.map(({ name, about }) => ({
      label: name,
      kind: CompletionItemKind.Value,
      ...(about && { documentation: about }),
      textEdit: { range, newText: name },
    }));
  }
  if (!region.isSource || !element || place.value || !place.attribute?.name.startsWith('on')) return undefined;
  const range = rangeOf(document, place.attribute.start, Math.max(offset, place.attribute.end));
  return element.events.map(({ type, about, detail }) => ({
    label: `on${type}`,
    kind: CompletionItemKind.Event,
    detail: `detail: ${detail}`,
    ...(about && { documentation: about }),
    insertTextFormat: InsertTextFormat.Snippet,
    // A dollar sign of the source, and a placeholder.
    textEdit: { range, newText: `on${type}=\\\${this.\${1:handler}}` },
  }));
}

/** In a view: the parts and slots that its element declares, and the parts of an inner element that it exports. */
function completeOfOwner(
  project: EditorProject,
  file: string,
  { tag, attribute, value }: HtmlPlace,
  element: ElementDescription | undefined,
  offset: number,
): [named: readonly { readonly name: string; readonly about: string }[], typed: string] | undefined {
  if (!value) return undefined;
  const owners = project.elements.filter(one => one.file === file);
  const [typed = ''] = /[^\s,:]*$/.exec(value.text.slice(0, offset - value.start)) ?? [];
  if (attribute?.name === 'part') return [owners.flatMap(({ parts }) => parts), typed];
  if (attribute?.name === 'name' && tag === 'slot')
    return [owners.flatMap(({ slots }) => slots).filter(({ name }) => name !== ''), typed];
  if (attribute?.name !== 'exportparts') return undefined;
  const isOuter = /:\s*[^\s,:]*$/.test(value.text.slice(0, offset - value.start));
  return [isOuter ? owners.flatMap(({ parts }) => parts) : (element?.parts ?? []), typed];
}

// Hover.

export function hover(project: EditorProject, document: TextDocument, position: Position): Hover | null {
  const at = lookAt(project, document, position);
  const { html } = project;
  const shown = at ? html.doHover(at.document, position, html.parseHTMLDocument(at.document)) : null;
  const name = nameUnder(project, document, position);
  // The text of a tag in HTML has more.
  if (!name || (shown && (name.kind === 'tag' || name.kind === 'attribute'))) return shown;
  if (name.kind === 'tag') return { contents: project.explain(name.name.toLowerCase())! };
  const about = aboutOf(name);
  if (about === undefined) return shown;
  const value = `${code(name.name)} of ${code(`<${name.element.tag}>`)}\n\n${prose(about)}`;
  return { contents: { kind: 'markdown', value } };
}

// Definitions and references of names in contracts.

/** The position of a declaration; for a tag, and for inherited names, the class. */
export function define(project: EditorProject, document: TextDocument, position: Position): Location | null {
  const name = nameUnder(project, document, position);
  const found = name && declarationOf(project, name);
  if (!found) return null;
  const file = TextDocument.create('file:///x', 'x', 0, found.text);
  return { uri: uriOf(project, found.file), range: rangeOf(file, found.start, found.end) };
}

const uriOf = ({ root }: EditorProject, file: string) => pathToFileURL(join(root, file)).href;

function nameUnder(project: EditorProject, document: TextDocument, position: Position): Sighting | undefined {
  return nameAt(project, fileOf(project, document.uri), document.getText(), document.offsetAt(position));
}

function declarationOf(project: EditorProject, name: ContractName): FilePlace | undefined {
  for (const tag of name.kind === 'tag' ? [] : declaringTags(project, name)) {
    const file = project.element(tag)?.file;
    if (file === undefined) continue;
    const text = textOf(join(project.root, file));
    const found = namesIn(project, file, text).find(one => one.isDeclaration && isSame(project, one, name));
    if (found) return { file, text, start: found.start, end: found.end };
  }
  return classPlace(project.root, name.element);
}

/** A file of the project, with unsaved changes of the editor. */
interface ProjectFile {
  readonly uri: string;
  readonly document: TextDocument;
  readonly sightings: readonly Sighting[];
}

/** All occurrences of a name: in pages, specimens, style sheets and sources. */
async function sightingsOf(
  project: EditorProject,
  name: ContractName,
  open: (uri: string) => TextDocument | undefined,
): Promise<ProjectFile[]> {
  const { root, out } = project;
  const files = await glob('**/*.{html,htm,css,ts,js,mts,mjs,tsx,jsx}', {
    cwd: root,
    ignore: ['**/node_modules/**', `${out}/**`],
  });
  const declaring = [...declaringTags(project, name)].flatMap(tag => project.element(tag)?.file ?? []);
  return [...new Set([...files, ...declaring])].sort().flatMap(file => {
    const uri = uriOf(project, file);
    const text = open(uri)?.getText() ?? readFileSync(join(root, file), 'utf8');
    // The declaration of an attribute is its property, with another name.
    const isWritten = text.toLowerCase().includes(name.name.toLowerCase());
    // Style sheets may write it with escapes.
    if (!isWritten && !text.includes('\\') && !declaring.includes(file)) return [];
    const sightings = namesIn(project, file, text).filter(one => isSame(project, one, name));
    return sightings.length > 0 ? [{ uri, document: TextDocument.create(uri, 'x', 0, text), sightings }] : [];
  });
}

export async function refer(
  project: EditorProject,
  document: TextDocument,
  position: Position,
  isDeclarationWanted: boolean,
  open: (uri: string) => TextDocument | undefined,
): Promise<Location[]> {
  const name = nameUnder(project, document, position);
  if (!name) return [];
  return (await sightingsOf(project, name, open)).flatMap(({ uri, document, sightings }) =>
    sightings
      .filter(({ isDeclaration }) => isDeclarationWanted || !isDeclaration)
      .map(({ start, end }) => ({ uri, range: rangeOf(document, start, end) })),
  );
}

/** The name at a position that can be renamed, with its range. */
export function renameable(
  project: EditorProject,
  document: TextDocument,
  position: Position,
): { range: Range; placeholder: string } | null {
  const name = nameUnder(project, document, position);
  return name ? { range: rangeOf(document, name.start, name.end), placeholder: name.name } : null;
}

/** @returns the edits of each document, or the reason why the name is invalid. */
export async function rename(
  project: EditorProject,
  document: TextDocument,
  position: Position,
  given: string,
  open: (uri: string) => TextDocument | undefined,
): Promise<{ [uri: string]: TextEdit[] } | string> {
  const name = nameUnder(project, document, position);
  if (!name)
    return 'There is no name of a contract here. Rename a tag, attribute, slot, part, state, event or custom property.';
  const problem = problemOfName(project, name, given);
  if (problem) return problem;
  const files = await sightingsOf(project, name, open);
  const unseen = declaringTags(project, name);
  for (const { sightings } of files)
    for (const { isDeclaration, element } of sightings) if (isDeclaration) unseen.delete(element.tag);
  // Its uses alone would no longer fit the contract.
  for (const tag of unseen)
    return `The ${kindNames[name.kind]} ${JSON.stringify(name.name)} of <${tag}> is not written in the call of contract() itself, so it cannot be renamed here. Write it there, or rename it by hand.`;
  const changes: { [uri: string]: TextEdit[] } = {};
  for (const { uri, document, sightings } of files)
    changes[uri] = sightings.map(({ start, end, edit }) => {
      const made = edit?.(given) ?? { start, end, text: given };
      return { range: rangeOf(document, made.start, made.end), newText: made.text };
    });
  return changes;
}

// Findings.

/** The findings in a document. */
export function findingsOf(project: EditorProject, document: TextDocument): Finding[] {
  if (project.elements.length === 0 && project.vocabulary.size === 0) return [];
  const file = fileOf(project, document.uri);
  const text = document.getText();
  if (isPage(file) || isSheet(file))
    return checkPage(file, text, project.vocabulary).filter(
      // A specimen contains no scripts: the gallery loads its elements.
      ({ code }) => code !== 'script-missing' || !file.endsWith('.specimen.html'),
    );
  if (!isSource(file)) return [];
  const elements = project.elements.filter(element => element.file === file);
  const facts = sourceFacts(file, text, elements, importedBy(join(project.root, file)));
  return [
    ...checkSource(file, facts, project.vocabulary),
    ...undefinedTags(project.root, file, facts, project.elements),
    ...project.types.findingsOf(file, text),
  ];
}

export function diagnose(project: EditorProject, document: TextDocument): Diagnostic[] {
  return findingsOf(project, document).map(finding => ({
    range: rangeOfFinding(document, finding),
    severity: DiagnosticSeverity.Warning,
    source: 'eltrix',
    code: finding.code,
    message: finding.message,
    data: finding.edits,
  }));
}

/** Marks the word at the position of a finding. */
function rangeOfFinding(document: TextDocument, { line, column }: Finding): Range {
  const start = { line: line - 1, character: column - 1 };
  const offset = document.offsetAt(start);
  const [word = ''] = /^[<\w:.-]+/.exec(document.getText().slice(offset, offset + 200)) ?? [];
  return { start: document.positionAt(offset), end: document.positionAt(offset + Math.max(1, word.length)) };
}

/** The edits that fix the findings in a range that have exactly one fix. */
export function fixes(
  project: EditorProject,
  document: TextDocument,
  range: Range,
): { readonly finding: Finding; readonly diagnostic: Diagnostic; readonly edits: TextEdit[] }[] {
  return findingsOf(project, document).flatMap(finding => {
    const where = rangeOfFinding(document, finding);
    const isInside = where.start.line <= range.end.line && where.end.line >= range.start.line;
    if (!finding.edits || !isInside) return [];
    const edits = finding.edits.map(({ start, end, text }) => ({
      range: rangeOf(document, start, end),
      newText: text,
    }));
    const diagnostic: Diagnostic = { range: where, message: finding.message, code: finding.code, source: 'eltrix' };
    return [{ finding, diagnostic, edits }];
  });
}
