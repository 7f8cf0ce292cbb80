/** `eltrix add`: a working element with its style sheet, specimens and test. */
import { classNameFor } from './class-name.ts';

/** The files of an element, by name. */
export function newElementFiles(tag: string, isJavaScript: boolean): Record<string, string> {
  const name = classNameFor(tag);
  const ending = isJavaScript ? 'js' : 'ts';
  const types = isJavaScript
    ? ''
    : `
declare global {
  interface HTMLElementTagNameMap {
    '${tag}': ${name};
  }
}
`;
  return {
    [`${tag}.${ending}`]: `import { contract, markup, slot, text } from 'eltrix';
import sheet from './${tag}.css' with { type: 'css' };

export class ${name} extends contract('${tag}', {
  about: 'TODO: describe <${tag}> in one sentence.',
  attributes: { label: text({ about: 'The label.' }) },
  slots: { '': slot('The content.') },
}) {
  static styleSheets = [sheet];

  view() {
    return markup\`
      <b>\${() => this.label}</b>
      <slot></slot>\`;
  }
}

${name}.define();
${types}`,
    [`${tag}.css`]: `:host {
  display: block;
}

:host([hidden]) {
  display: none;
}
`,
    [`${tag}.specimen.html`]: `<template title="As usual">
  <${tag} label="A label">Some content.</${tag}>
</template>

<template title="Without content">
  <${tag} label="A label"></${tag}>
</template>
`,
    [`${tag}.test.${ending}`]: `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { audit, deep, stage } from 'eltrix-tool/testing';
import './${tag}.${ending}';

it('shows its label', async () => {
  const element = await stage${isJavaScript ? '' : '<HTMLElement>'}('<${tag} label="A label"></${tag}>');
  assert.equal(deep('b', element).textContent, 'A label');
  element.setAttribute('label', 'Another one');
  await Promise.resolve();
  assert.equal(deep('b', element).textContent, 'Another one');
});

it('passes the accessibility audit', async () => {
  await audit(await stage('<${tag} label="A label">Some content.</${tag}>'));
});
`,
  };
}
