/** What the check of a page costs beyond parsing it: mostly text, and mostly elements. */
import { parse } from 'parse5';
import { checkPage } from '../packages/eltrix-tool/src/check/pages/check-page.ts';
import { vocabularyOf } from '../packages/eltrix-tool/src/check/pages/vocabulary.ts';
import type { ElementDescription } from '../packages/eltrix-tool/src/describe/description.ts';

const hiveCard = {
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
const vocabulary = vocabularyOf([hiveCard]);
const element = '<hive-card name="Rosemary" boxes="2"><p>Gentle.</p></hive-card>';
const text =
  '<section class="week"><h2 id="week">At the orchard</h2><p>Saw the first drones, and <a href="/limes">the limes</a> are in flower.</p><ul><li>Two boxes</li><li>Calm</li></ul></section>\n';
const pageOf = (block: string, length: number) =>
  `<!doctype html><html lang="en"><title>x</title><body>${block.repeat(Math.ceil(length / block.length))}</body></html>`;

const rounds = 400;
const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;

const mostlyText = text.repeat(10) + element;
const mostlyElements = `${element}<p>Seen at noon.</p>`;
// HTML files in npm packages have 14 KB on average.
for (const page of [14_000, 50_000].flatMap(length => [pageOf(mostlyText, length), pageOf(mostlyElements, length)])) {
  const [parsing, beyond]: [number[], number[]] = [[], []];
  // Both take turns, so that neither has the warmer engine, the fuller memory or the faster processor.
  for (let i = 0; i < rounds; i++) {
    const start = performance.now();
    parse(page, { sourceCodeLocationInfo: true });
    const middle = performance.now();
    checkPage('page.html', page, vocabulary);
    parsing.push(middle - start);
    beyond.push(performance.now() - middle - (middle - start));
  }
  const count = page.split('<hive-card').length - 1;
  console.log(
    `${Math.round(page.length / 1000)} KB with ${count} elements: parsing ${median(parsing).toFixed(2)} ms, the check beyond it ${median(beyond).toFixed(2)} ms`,
  );
}
