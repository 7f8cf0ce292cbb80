/** What editors ask of a document: completion, hover, findings, definitions, references. */
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
import type { ElementDescription } from '../describe/description.ts';
import type { Finding } from '../project/finding.ts';
import { type HtmlPlace, placeAt } from './html-place.ts';
import { type ContractGroup, placeOf } from './places.ts';
import type { EditorProject } from './project.ts';
import { isPage, isSheet, isSource, type Region, regionAt, regionsOf } from './regions.ts';

type Position = Range['start'];

/** A document in a project, at a place. */
interface At {
  readonly region: Region;
  /** The HTML alone, with the same places. */
  readonly document: TextDocument;
  readonly offset: number;
  readonly place: HtmlPlace | undefined;
}

const fileOf = (project: EditorProject, uri: string) =>
  relative(project.root, fileURLToPath(uri)).replaceAll('\\', '/');

function lookAt(project: EditorProject, document: TextDocument, position: Position): At | undefined {
  const file = fileOf(project, document.uri);
  const offset = document.offsetAt(position);
  const region = regionAt(file, document.getText(), offset);
  if (!region) return undefined;
  const html = TextDocument.create(document.uri, 'html', document.version, region.text);
  const parsed = project.html.parseHTMLDocument(html);
  return { region, document: html, offset, place: placeAt(project.html, html, parsed, offset) };
}

/** A range, in a document, of offsets. */
const rangeOf = (document: TextDocument, start: number, end: number): Range => ({
  start: document.positionAt(start),
  end: document.positionAt(end),
});

// Completion.

export function complete(project: EditorProject, document: TextDocument, position: Position): CompletionItem[] {
  if (isSheet(document.uri)) return completeSheet(project, document, position);
  const at = lookAt(project, document, position);
  if (!at) return [];
  const own = completeOwn(project, at);
  if (own) return own;
  const { html } = project;
  return html.doComplete(at.document, position, html.parseHTMLDocument(at.document)).items;
}

/** Slots of the element around, parts, and events of an element in markup. */
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
  if (!region.isSource || !element || place.value || !place.attribute?.name.startsWith('on')) return undefined;
  const range = rangeOf(document, place.attribute.start, Math.max(offset, place.attribute.end));
  return element.events.map(({ type, about, detail }) => ({
    label: `on${type}`,
    kind: CompletionItemKind.Event,
    detail: `detail: ${detail}`,
    ...(about && { documentation: about }),
    insertTextFormat: InsertTextFormat.Snippet,
    // A dollar sign of the source, and a place to fill in.
    textEdit: { range, newText: `on${type}=\\\${this.\${1:handler}}` },
  }));
}

/** `::part()`, `:state()` and custom properties, of the element whose tag stands before, else of all. */
function completeSheet(project: EditorProject, document: TextDocument, position: Position): CompletionItem[] {
  const line = document.getText({ start: { line: position.line, character: 0 }, end: position });
  const [, tag, kind] = /(?:([a-z][\w-]*-[\w-]*)[^\s{};]*)?(::part\(|:state\()[\w-]*$/.exec(line) ?? [];
  const elements = tag && project.element(tag) ? [project.element(tag)!] : project.elements;
  if (kind)
    return elements.flatMap(element =>
      (kind === '::part(' ? element.parts : element.states).map(({ name, about }) => ({
        label: name,
        kind: CompletionItemKind.Value,
        detail: `<${element.tag}>`,
        documentation: about,
      })),
    );
  if (!/--[\w-]*$/.test(line)) return [];
  const [typed = ''] = /--[\w-]*$/.exec(line) ?? [];
  const start = { line: position.line, character: position.character - typed.length };
  return project.elements.flatMap(element =>
    element.cssProperties.map(({ name, about }) => ({
      label: name,
      kind: CompletionItemKind.Variable,
      detail: `<${element.tag}>`,
      documentation: about,
      textEdit: { range: { start, end: position }, newText: name },
    })),
  );
}

// Hover.

export function hover(project: EditorProject, document: TextDocument, position: Position): Hover | null {
  const at = lookAt(project, document, position);
  if (!at) return null;
  const { place } = at;
  const target = place && targetOf(project, place);
  if (target && place?.attribute && target.group && target.group !== 'attributes') {
    const { element, group, name } = target;
    const list = element[group] as readonly { name?: string; type?: string; about?: string }[];
    const found = list.find(one => (one.name ?? one.type) === name);
    return found
      ? { contents: { kind: 'markdown', value: `\`${name}\` of \`<${element.tag}>\`\n\n${found.about ?? ''}` } }
      : null;
  }
  const { html } = project;
  return html.doHover(at.document, position, html.parseHTMLDocument(at.document));
}

// What a place stands for.

interface Target {
  readonly element: ElementDescription;
  readonly group?: ContractGroup;
  /** As the contract names it: a property for an attribute. */
  readonly name?: string;
  /** As HTML writes it. */
  readonly written?: string;
}

function targetOf(project: EditorProject, { tag, parent, attribute, value, node }: HtmlPlace): Target | undefined {
  const element = project.element(tag);
  if (attribute?.name === 'slot' && value) {
    const around = parent === undefined ? undefined : project.element(parent);
    return around && { element: around, group: 'slots', name: value.text, written: value.text };
  }
  if (!element) return undefined;
  if (!attribute) return node.attributes ? { element } : { element };
  if (attribute.name.startsWith('on')) {
    const name = attribute.name.slice(2);
    return element.events.some(({ type }) => type === name)
      ? { element, group: 'events', name, written: name }
      : undefined;
  }
  const property = element.properties.find(one => one.attribute === attribute.name.toLowerCase());
  return property && { element, group: 'attributes', name: property.name, written: attribute.name };
}

export function define(project: EditorProject, document: TextDocument, position: Position): Location | null {
  const place = lookAt(project, document, position)?.place;
  const target = place && targetOf(project, place);
  const found = target && placeOf(project.root, target.element, target.group, target.name);
  if (!found) return null;
  const file = TextDocument.create('file:///x', 'x', 0, found.text);
  return {
    uri: pathToFileURL(join(project.root, found.file)).href,
    range: rangeOf(file, found.start, found.end),
  };
}

/** Pages, specimens, sheets and sources of a project. */
async function filesOf({ root, out }: EditorProject, endings: string): Promise<string[]> {
  return (await glob([`**/*.{${endings}}`], { cwd: root, ignore: ['**/node_modules/**', `${out}/**`] })).sort();
}

/** Every use of what stands at a place: of a tag, of an attribute of that element, of a slot or an event. */
export async function refer(
  project: EditorProject,
  document: TextDocument,
  position: Position,
  open: (uri: string) => TextDocument | undefined,
): Promise<Location[]> {
  const place = lookAt(project, document, position)?.place;
  const target = place && targetOf(project, place);
  if (!target) return [];
  const found: Location[] = [];
  for (const file of await filesOf(project, 'html,htm,ts,js,mts,mjs,tsx,jsx')) {
    const uri = pathToFileURL(join(project.root, file)).href;
    const text = open(uri)?.getText() ?? readFileSync(join(project.root, file), 'utf8');
    if (!text.includes(target.element.tag) && target.group !== 'slots') continue;
    for (const region of regionsOf(file, text)) {
      const html = TextDocument.create(uri, 'html', 0, region.text);
      for (const [start, end] of usesIn(project, html, region, target))
        found.push({ uri, range: rangeOf(html, start, end) });
    }
  }
  return found;
}

function usesIn(project: EditorProject, document: TextDocument, region: Region, target: Target): [number, number][] {
  const parsed = project.html.parseHTMLDocument(document);
  const found: [number, number][] = [];
  const visit = (node: HtmlPlace['node'], parent: string | undefined) => {
    const { tag } = node;
    if (tag !== undefined && node.start >= region.start - 1) {
      const isElement = tag === target.element.tag;
      if (target.group === undefined) {
        if (isElement) {
          found.push([node.start + 1, node.start + 1 + tag.length]);
          if (node.endTagStart !== undefined) found.push([node.endTagStart + 2, node.endTagStart + 2 + tag.length]);
        }
      } else
        for (const [name, value] of Object.entries(node.attributes ?? {})) {
          const isUse =
            target.group === 'slots'
              ? name === 'slot' && parent === target.element.tag && value?.replace(/^["']|["']$/g, '') === target.name
              : isElement && name === (target.group === 'events' ? `on${target.written}` : target.written);
          if (!isUse) continue;
          const at = attributePlace(project, document, node, name);
          if (at)
            found.push(target.group === 'slots' && at.value ? [at.value.start, at.value.end] : [at.start, at.end]);
        }
    }
    for (const child of node.children) visit(child, tag ?? parent);
  };
  for (const node of parsed.roots) visit(node, undefined);
  return found;
}

function attributePlace(project: EditorProject, document: TextDocument, node: HtmlPlace['node'], name: string) {
  const parsed = project.html.parseHTMLDocument(document);
  const text = document.getText().slice(node.start, node.startTagEnd ?? node.end);
  for (let at = text.indexOf(name); at >= 0; at = text.indexOf(name, at + 1)) {
    const place = placeAt(project.html, document, parsed, node.start + at);
    if (place?.attribute?.name !== name || place.value) continue;
    const { start, end } = place.attribute;
    const value = placeAt(project.html, document, parsed, end + 2)?.value;
    return { start, end, value };
  }
  return undefined;
}

// Findings.

/** What is wrong in a document. */
export function findingsOf(project: EditorProject, document: TextDocument): Finding[] {
  if (project.elements.length === 0 && project.vocabulary.size === 0) return [];
  const file = fileOf(project, document.uri);
  const text = document.getText();
  if (isPage(file) || isSheet(file))
    return checkPage(file, text, project.vocabulary).filter(
      // A specimen is no page: the gallery loads its elements.
      ({ code }) => code !== 'script-missing' || !file.endsWith('.specimen.html'),
    );
  if (!isSource(file)) return [];
  const elements = project.elements.filter(element => element.file === file);
  return checkSource(file, sourceFacts(file, text, elements), project.vocabulary);
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

/** A finding has a place; the word there is marked. */
function rangeOfFinding(document: TextDocument, { line, column }: Finding): Range {
  const start = { line: line - 1, character: column - 1 };
  const offset = document.offsetAt(start);
  const [word = ''] = /^[<\w:.-]+/.exec(document.getText().slice(offset, offset + 200)) ?? [];
  return { start: document.positionAt(offset), end: document.positionAt(offset + Math.max(1, word.length)) };
}

/** The changes that fix what is wrong in a range, where there is exactly one fix. */
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
