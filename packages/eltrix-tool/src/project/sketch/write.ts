/** Writes an element's first source, specimens and test from the inferred contract. */
import { choice, decimal, flag, integer, type Kind, text } from '../../../../eltrix/src/contract/index.ts';
import { kebabCase } from '../../../../eltrix/src/contract/names.ts';
import { classNameFor } from '../class-name.ts';
import { singleQuoted } from '../single-quoted.ts';
import type { InferredAttribute, InferredElement } from './infer.ts';
import type { Use } from './usage.ts';

/** The maximum number of uses that become specimens. */
const most = 12;

const key = (name: string) => (/^[a-z$_][\w$]*$/i.test(name) ? name : singleQuoted(name));
/** Text as HTML, also of an attribute. */
const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');
/** Source text that stands for a text in a template literal. */
const inTemplate = (text: string) => text.replace(/[`\\]|\$\{/g, '\\$&').replaceAll('\r', '\\r');

/** The four files, by name. `others` are the tags whose modules are beside it. */
export function elementFiles(
  element: InferredElement,
  usageFile: string,
  others: ReadonlySet<string>,
): Record<string, string> {
  return {
    [`${element.tag}.ts`]: source(element, usageFile),
    [`${element.tag}.css`]: sheet,
    [`${element.tag}.specimen.html`]: specimens(element, usageFile),
    [`${element.tag}.test.ts`]: test(element, others),
  };
}

const sheet = `:host {
  display: block;
}

:host([hidden]) {
  display: none;
}
`;

function source(element: InferredElement, usageFile: string): string {
  const { tag, attributes, slots, events } = element;
  const name = classNameFor(tag);
  const kinds = new Set<string>(attributes.map(({ kind }) => kind));
  const imports = [
    ...kinds,
    'contract',
    'markup',
    ...(events.length > 0 ? ['event'] : []),
    ...(slots.length > 0 ? ['slot'] : []),
  ].sort();
  const lines = [
    `  about: ${singleQuoted(`TODO: describe <${tag}> in one sentence.`)},`,
    ...record('attributes', attributes.map(attribute)),
    ...record(
      'events',
      events.map(({ type }) => `${singleQuoted(type)}: event({ about: 'TODO: describe the event.' })`),
    ),
    ...record(
      'slots',
      slots.map(({ name, accepts }) => {
        const about = name ? `TODO: describe the slot ${name}.` : 'The content.';
        return `${key(name)}: slot(${singleQuoted(about)}${accepts ? `, { accepts: ${singleQuoted(accepts)} }` : ''})`;
      }),
    ),
  ];
  return `import { ${imports.join(', ')} } from 'eltrix';
import sheet from ${singleQuoted(`./${tag}.css`)} with { type: 'css' };

${comment(element, usageFile)}
export class ${name} extends contract(${singleQuoted(tag)}, {
${lines.join('\n')}
}) {
  static styleSheets = [sheet];

  view() {
    return markup\`
${view(element)}\`;
  }
}

${name}.define();

declare global {
  interface HTMLElementTagNameMap {
    ${singleQuoted(tag)}: ${name};
  }
}
`;
}

function record(name: string, entries: readonly string[]): string[] {
  return entries.length === 0 ? [] : [`  ${name}: {`, ...entries.map(entry => `    ${entry},`), '  },'];
}

function attribute({ attribute, property, kind, values }: InferredAttribute): string {
  const named = kebabCase(property) === attribute ? '' : `{ attribute: ${singleQuoted(attribute)} }`;
  switch (kind) {
    case 'choice': {
      const [first] = values;
      const options = [`missing: ${singleQuoted(first!)}`, `invalid: ${singleQuoted(first!)}`];
      if (named) options.push(`attribute: ${singleQuoted(attribute)}`);
      return `${key(property)}: choice([${values.map(singleQuoted).join(', ')}], { ${options.join(', ')} })`;
    }
    case 'json':
      return `${key(property)}: json<unknown>(${named})`;
    default:
      return `${key(property)}: ${kind}(${named})`;
  }
}

function comment({ tag, uses, attributes, slots, events, within }: InferredElement, usageFile: string): string {
  const of = (count: number) => `${count} of ${uses.length} use${uses.length === 1 ? '' : 's'}`;
  const rows = [
    ...attributes.map(({ attribute, kind, count, seen }) => [attribute, kind, of(count), kind === 'flag' ? '' : seen]),
    ...slots.map(({ name, count, seen }) => [name ? `slot "${name}"` : 'default slot', '', of(count), seen]),
    ...events.map(({ type, count }) => [type, 'event', of(count), '']),
  ];
  const widths = [0, 1, 2].map(at => Math.max(0, ...rows.map(row => row[at]!.length)));
  const lines = rows.map(row =>
    row
      .map((cell, at) => (at < 3 ? cell.padEnd(widths[at]!) : cell))
      .join('  ')
      .trimEnd(),
  );
  return [
    `/**`,
    ` * Sketched from ${usageFile}, where <${tag}> is used ${uses.length === 1 ? 'once' : `${uses.length} times`}${within.length > 0 ? `, in ${within.map(name => `<${name}>`).join(' and ')}` : ''}. Inferred:`,
    ' *',
    ...(lines.length > 0 ? lines : ['nothing but its tag']).map(line => ` *     ${line.replaceAll('*/', '* /')}`),
    ' */',
  ].join('\n');
}

function view({ attributes, slots, events }: InferredElement): string {
  const shown = attributes.map(({ attribute, property, kind }) => {
    const value = kind === 'json' ? `JSON.stringify(this.${property})` : `this.${property}`;
    return `        <div><dt>${attribute}</dt><dd>\${() => ${kind === 'flag' ? `String(${value})` : value}}</dd></div>`;
  });
  return [
    ...(shown.length > 0 ? ['      <dl>', ...shown, '      </dl>'] : []),
    ...slots.map(({ name }) => `      <slot${name ? ` name="${inTemplate(escaped(name))}"` : ''}></slot>`),
    ...events.map(
      ({ type }) =>
        `      <button type="button" onclick=\${() => this.emit(${singleQuoted(type)}, undefined)}>${inTemplate(escaped(type))}</button>`,
    ),
    ...(shown.length + slots.length + events.length === 0 ? ['      <p>Nothing yet.</p>'] : []),
  ].join('\n');
}

/** The first of several uses with the same text. */
function distinct(uses: readonly Use[]): Use[] {
  return [...new Map([...uses].reverse().map(use => [use.html, use])).values()].reverse().slice(0, most);
}

/** The line, and the number among several uses in the line. */
function placeOf(use: Use, all: readonly Use[]): string {
  const inLine = all.filter(({ line }) => line === use.line);
  return `line ${use.line}${inLine.length > 1 ? `, ${inLine.indexOf(use) + 1} of ${inLine.length}` : ''}`;
}

function specimens({ uses }: InferredElement, usageFile: string): string {
  const shown = distinct(uses);
  return shown
    .map(use => {
      const { html } = use;
      const body = html.replace(/^(?=.)/gm, '  ');
      return `<template title="As in ${escaped(usageFile)}, ${placeOf(use, shown)}">\n${body}\n</template>\n`;
    })
    .join('\n');
}

function test({ tag, uses, attributes, slots }: InferredElement, others: ReadonlySet<string>): string {
  const name = classNameFor(tag);
  const shown = distinct(uses);
  const used = new Set(shown.flatMap(({ inside }) => [...inside]));
  used.delete(tag);
  const imports = [...used].filter(other => others.has(other)).sort();
  const cases = shown.map(use => {
    const lines = attributes.flatMap(inferred => assertion(inferred, use));
    for (const { name: slot } of slots) {
      if (!use.slots.has(slot)) continue;
      lines.push(
        `assert.ok(deep<HTMLSlotElement>(${singleQuoted(slot ? `slot[name="${slot.replace(/["\\\n]/g, sign => (sign === '\n' ? '\\a ' : `\\${sign}`))}"]` : 'slot:not([name])')}, element).assignedNodes().length > 0);`,
      );
    }
    if (lines.length === 0) lines.push(`assert.ok(element instanceof ${name});`);
    return `  it('is what ${placeOf(use, shown)} says', async () => {
    const element = await stage<${name}>(\`${inTemplate(use.html)}\`);
${lines.map(line => `    ${line}`).join('\n')}
  });`;
  });
  const module = singleQuoted(`./${tag}.ts`);
  const needsClass = cases.some(text => text.includes(`instanceof ${name}`));
  return `import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { ${cases.some(text => text.includes('deep<')) ? 'deep, ' : ''}stage } from 'eltrix-tool/testing';
${imports.map(other => `import ${singleQuoted(`./${other}.ts`)};\n`).join('')}import ${needsClass ? '' : 'type '}{ ${name} } from ${module};
${needsClass ? '' : `import ${module};\n`}
describe(${singleQuoted(`<${tag}>`)}, () => {
${cases.join('\n\n')}
});
`;
}

/** The kinds whose values do not depend on the page. */
const kinds: Readonly<Record<string, (values: readonly string[]) => Kind<unknown>>> = {
  flag: () => flag(),
  integer: () => integer(),
  decimal: () => decimal(),
  choice: values => choice(values, { missing: values[0]!, invalid: values[0]! }),
  text: () => text(),
};

function assertion({ attribute, property, kind, values }: InferredAttribute, use: Use): string[] {
  const said = use.attributes.get(attribute);
  const kindOf = kinds[kind];
  if (kindOf) {
    const value = kindOf(values).read(said ?? null, { baseURI: '' });
    const shown = typeof value === 'string' ? singleQuoted(value) : Object.is(value, -0) ? '-0' : String(value);
    return [`assert.equal(element.${property}, ${shown});`];
  }
  if (said === undefined) return [];
  return kind === 'json'
    ? [`assert.deepEqual(element.${property}, ${JSON.stringify(JSON.parse(said))});`]
    : [`assert.equal(element.getAttribute(${singleQuoted(attribute)}), ${singleQuoted(said)});`];
}
