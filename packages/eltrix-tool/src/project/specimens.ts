/** Specimens: HTML examples beside an element, in `<template title="…">` blocks. */

import { existsSync, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { type DefaultTreeAdapterTypes, parse, serialize } from 'parse5';
import { glob } from 'tinyglobby';
import { attributeOf } from './attribute-of.ts';
import type { ElementPlace, FoundElement } from './discover.ts';
import type { Finding } from './finding.ts';
import { nearest } from './nearest.ts';

type Node = DefaultTreeAdapterTypes.ChildNode;
type Element = DefaultTreeAdapterTypes.Element;
type Template = DefaultTreeAdapterTypes.Template;

export interface Specimen {
  /** As written by the author; unique in its file. */
  readonly title: string;
  /** The part of a URL: lower case, words joined by hyphens. */
  readonly slug: string;
  /** The markup without scripts and styles. */
  readonly html: string;
  /** The text of its `<script type="module">` blocks, in order. */
  readonly scripts: readonly string[];
  /** The text of its `<style>` blocks, in order. */
  readonly styles: readonly string[];
  /** The line of its template, from 1. */
  readonly line: number;
}

export interface SpecimenFile {
  /** Relative to the project's folder. */
  readonly file: string;
  readonly specimens: readonly Specimen[];
  readonly problems: readonly Finding[];
}

/**
 * The specimens of an element: in `<tag>.specimen.html`, or in a file named like the element's module, which other
 * elements of the module may share.
 */
export function readSpecimens(root: string, element: Pick<ElementPlace, 'tag' | 'file'>): SpecimenFile | undefined {
  const folder = dirname(element.file);
  const names = [element.tag, basename(element.file).replace(/\.[cm]?[jt]sx?$/, '')];
  const file = names.map(name => join(folder, `${name}.specimen.html`)).find(name => existsSync(join(root, name)));
  if (file === undefined) return undefined;
  const isShared = basename(file) !== `${element.tag}.specimen.html`;
  const read = parseSpecimens(
    file.replaceAll('\\', '/'),
    readFileSync(join(root, file), 'utf8'),
    element.tag,
    isShared,
  );
  const isOfOthers =
    isShared && read.specimens.length === 0 && !read.problems.some(({ code }) => code === 'specimen-none');
  return isOfOthers ? undefined : read;
}

/** Specimen files without an element. */
export async function orphanSpecimens(
  root: string,
  source: string,
  elements: readonly Pick<ElementPlace, 'tag' | 'file'>[],
): Promise<Finding[]> {
  const files = await glob([`${source}/**/*.specimen.html`], { cwd: root, ignore: ['**/node_modules/**'] });
  const taken = new Set(elements.map(element => readSpecimens(root, element)?.file));
  return files
    .filter(file => !taken.has(file))
    .sort()
    .map(file => {
      const name = basename(file, '.specimen.html');
      const near = nearest(
        name,
        elements.map(({ tag }) => tag),
      );
      return {
        code: 'specimen-orphan',
        message: `There is no element <${name}> beside it, so these specimens are not shown. ${near ? `Did you mean ${near}.specimen.html?` : 'Name the file after its element, for example hive-card.specimen.html.'}`,
        file,
        line: 1,
        column: 1,
      };
    });
}

/**
 * Parses a specimen file; reports findings and uses the rest.
 * @param isShared whether specimens of other custom elements are left to those.
 */
export function parseSpecimens(file: string, text: string, tag: string, isShared = false): SpecimenFile {
  const problems: Finding[] = [];
  const specimens: Specimen[] = [];
  const report = (code: string, message: string, at: { startLine: number; startCol: number } | null | undefined) =>
    problems.push({ code, message, file, line: at?.startLine ?? 1, column: at?.startCol ?? 1 });
  const page = parse(text, {
    sourceCodeLocationInfo: true,
    onParseError: ({ code, startLine, startCol }) => {
      // Fragments have no doctype.
      if (code === 'missing-doctype') return;
      report('specimen-html', `The HTML is not well formed: ${code.replaceAll('-', ' ')}.`, { startLine, startCol });
    },
  });
  const root = page.childNodes.find((node): node is Element => node.nodeName === 'html')!;
  const shared: { scripts: string[]; styles: string[] } = { scripts: [], styles: [] };
  const top = root.childNodes.flatMap(node => ('childNodes' in node ? node.childNodes : []));
  const templates: Template[] = [];
  for (const node of top) {
    const at = node.sourceCodeLocation;
    if (node.nodeName === 'template') templates.push(node as Template);
    else if (isModule(node)) shared.scripts.push(textOf(node as Element));
    else if (node.nodeName === 'style') shared.styles.push(textOf(node as Element));
    else if (node.nodeName === 'script')
      report(
        'specimen-script',
        'Only module scripts run in a specimen. Write <script type="module">. It was ignored.',
        at,
      );
    else if (node.nodeName === '#text' && !(node as { value: string }).value.trim()) continue;
    else if (node.nodeName !== '#comment')
      report(
        'specimen-loose',
        `${node.nodeName === '#text' ? 'This text' : `<${node.nodeName}>`} is outside a template, so it is not shown. Put it into one: <template title="A busy hive">…</template>.`,
        at,
      );
  }
  for (const template of templates) {
    const isOurs = mentions(template.content, name => name === tag);
    if (!isOurs && isShared && mentions(template.content, name => name.includes('-'))) continue;
    const at = template.sourceCodeLocation!;
    let title = attributeOf(template, 'title')?.trim() ?? '';
    if (!title) {
      title = `Specimen ${specimens.length + 1}`;
      report(
        'specimen-untitled',
        `This template has no title. Write <template title="…">; until then it is called "${title}".`,
        at,
      );
    }
    if (specimens.some(other => other.title === title)) {
      const free = `${title} (${specimens.length + 1})`;
      report(
        'specimen-title-taken',
        `Another specimen here is called "${title}". It is called "${free}" meanwhile.`,
        at,
      );
      title = free;
    }
    if (!at.endTag) report('specimen-html', 'The template is not closed. Write </template> after it.', at);
    const scripts = [...shared.scripts];
    const styles = [...shared.styles];
    const { content } = template;
    content.childNodes = content.childNodes.filter(node => {
      if (isModule(node)) scripts.push(textOf(node as Element));
      else if (node.nodeName === 'style') styles.push(textOf(node as Element));
      else if (node.nodeName === 'script')
        report(
          'specimen-script',
          'Only module scripts run in a specimen. Write <script type="module">. It was ignored.',
          node.sourceCodeLocation,
        );
      else return true;
      return false;
    });
    if (!isOurs)
      report('specimen-without-element', `There is no <${tag}> in "${title}", and it is one of its specimens.`, at);
    specimens.push({
      title,
      slug: slugOf(title, specimens),
      html: dedent(serialize(content)),
      scripts,
      styles,
      line: at.startLine,
    });
  }
  if (templates.length === 0)
    report(
      'specimen-none',
      'There is no specimen in this file. Write one: <template title="A busy hive">…</template>.',
      null,
    );
  return { file, specimens, problems };
}

function isModule(node: Node): boolean {
  return (
    node.nodeName === 'script' &&
    (node as Element).attrs.some(({ name, value }) => name === 'type' && value.trim().toLowerCase() === 'module')
  );
}

function textOf(element: Element): string {
  return element.childNodes.map(node => (node.nodeName === '#text' ? (node as { value: string }).value : '')).join('');
}

/** Whether an element with such a tag, or such an `is`, is inside. */
function mentions(node: { childNodes: Node[] }, isWanted: (tag: string) => boolean): boolean {
  return node.childNodes.some(child => {
    if (isWanted(child.nodeName)) return true;
    if ('attrs' in child && child.attrs.some(({ name, value }) => name === 'is' && isWanted(value))) return true;
    if (child.nodeName === 'template') return mentions((child as Template).content, isWanted);
    return 'childNodes' in child && mentions(child, isWanted);
  });
}

function slugOf(title: string, others: readonly Specimen[]): string {
  const base =
    title
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'specimen';
  let slug = base;
  for (let n = 2; others.some(other => other.slug === slug); n++) slug = `${base}-${n}`;
  return slug;
}

/** Removes the indentation that all lines share. */
export function dedent(text: string): string {
  const lines = text.replace(/^\s*\n|\s+$/g, '').split('\n');
  const depth = Math.min(...lines.filter(line => line.trim()).map(line => line.length - line.trimStart().length));
  return lines.map(line => line.slice(Number.isFinite(depth) ? depth : 0)).join('\n');
}

/** An element without specimens, as created. */
export function plainHtml({ tag, contract }: FoundElement): string {
  return contract.extends === undefined
    ? `<${tag}></${tag}>`
    : `<${contract.extends} is="${tag}"></${contract.extends}>`;
}

/** The folder of a file, for URLs: with a final slash, empty for the project's own. */
export function folderOf(file: string): string {
  const folder = dirname(file).replaceAll('\\', '/');
  return folder === '.' ? '' : `${folder}/`;
}
