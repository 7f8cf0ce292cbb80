/** What the check of pages costs beside parsing them: 50 KB a page, in one run. */
import { parse } from 'parse5';
import { checkPage } from '../packages/eltrix-tool/src/check/pages/check-page.ts';
import { vocabularyOf } from '../packages/eltrix-tool/src/check/pages/vocabulary.ts';
import type { ElementDescription } from '../packages/eltrix-tool/src/describe/description.ts';

const element = {
  tag: 'hive-card',
  className: 'HiveCard',
  file: '',
  about: undefined,
  form: false,
  extends: undefined,
  shadow: 'open',
  properties: [
    {
      name: 'name',
      attribute: 'name',
      kind: 'text',
      type: 'string',
      about: undefined,
      default: '""',
      reflects: true,
      values: [],
      aliases: [],
      range: undefined,
    },
    {
      name: 'boxes',
      attribute: 'boxes',
      kind: 'integer',
      type: 'number',
      about: undefined,
      default: '1',
      reflects: true,
      values: [],
      aliases: [],
      range: undefined,
    },
  ],
  methods: [],
  events: [],
  slots: [{ name: '', about: '', accepts: undefined, required: false }],
  parts: [],
  cssProperties: [],
  states: [],
  types: [],
} as const satisfies ElementDescription;
const vocabulary = vocabularyOf([element]);
const block =
  '<section class="week"><h2>At the orchard</h2><p>Saw the first drones, and the limes are in flower.</p><hive-card name="Rosemary" boxes="2"><p>Gentle.</p></hive-card></section>\n';
const page = `<!doctype html><html lang="en"><title>x</title><body>${block.repeat(Math.ceil(50_000 / block.length))}</body></html>`;

// Both take turns, so that neither has the warmer engine or the fuller memory.
let [parsing, checking] = [0, 0];
const round = () => {
  const start = performance.now();
  parse(page, { sourceCodeLocationInfo: true });
  const middle = performance.now();
  checkPage('page.html', page, vocabulary);
  parsing += middle - start;
  checking += performance.now() - middle;
};
for (let i = 0; i < 200; i++) round();
for (const times of [500, 1000, 2000]) {
  [parsing, checking] = [0, 0];
  for (let i = 0; i < times; i++) round();
  const [parse, check] = [parsing / times, checking / times];
  console.log(
    `${times} pages of ${Math.round(page.length / 1000)} KB: parsing ${parse.toFixed(2)} ms a page, checking with it ${check.toFixed(2)} ms, beyond parsing ${(check - parse).toFixed(2)} ms`,
  );
}
