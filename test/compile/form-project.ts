/** Elements written in one form or another, built together. */
import { eltrix, project } from '../support/project.ts';

export const all =
  "import * as e from 'eltrix';\nimport { contract, text, choice, data, event, flag, integer, json, markup, stylesheet } from 'eltrix';\n";
export const view = 'view() { return markup`<p>${() => this.label}</p>`; }';
export const element = (call: string, body = view, head = '', tail = '') =>
  `${all}${head}\nexport class BeeForm extends ${call} { ${body} }\n${tail}`;
export const plain = "contract('bee-form', { attributes: { label: text() } })";

export function build(
  sources: readonly string[],
  more: Readonly<Record<string, string>> = {},
): {
  readonly root: string;
  readonly stdout: string;
  readonly stderr: string;
} {
  const files = sources.map((source, at) => [`src/form-${at}.ts`, source.replaceAll('bee-form', `bee-form-${at}`)]);
  const root = project({ ...Object.fromEntries(files), ...more });
  return { root, ...eltrix(root, 'build', '--no-look') };
}
