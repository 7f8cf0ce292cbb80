import { parsed } from '../place.ts';
import type { Stage } from '../stage.ts';
import { walk, walked } from '../walk.ts';
import { foreignResources, said } from '../watch.ts';
import { failure, type Rule } from './rule.ts';

/** Without duplicates. */
const noted = (kind: (typeof said)[number]['kind']) => [
  ...new Set(said.filter(one => one.kind === kind).map(({ text }) => text)),
];

/** The texts of all attributes in specimens. */
const attributeTexts = (stage: Stage): string[] =>
  stage.task.specimens
    .flatMap(({ html }) => [...parsed(html).querySelectorAll('*')])
    .flatMap(({ attributes }) => [...attributes].map(({ value }) => value));

/** No console messages, errors, policy violations or requests to other hosts. */
export const quietRules: readonly Rule[] = [
  {
    code: 'console-quiet',
    async run(stage) {
      await walk(stage);
      return noted('console').map(text =>
        failure(
          walked,
          'nothing on the console',
          text,
          'Fix what the message reports, and remove calls that were for debugging.',
        ),
      );
    },
  },
  {
    code: 'policy-kept',
    async run(stage) {
      await walk(stage);
      // own-host reports requests to other hosts.
      const refused = noted('policy').filter(text => !/ (?:https?|wss?):\/\/(?!127\.0\.0\.1)/.test(text));
      return refused.map(text =>
        failure(
          `${walked}, under a strict content security policy with Trusted Types`,
          'no violation of the policy',
          `the policy blocked ${text}`,
          'Set styles through stylesheet`…`, a style record or CSSOM, text through placeholders, and load nothing that the page does not allow.',
        ),
      );
    },
  },
  {
    code: 'own-host',
    async run(stage) {
      await walk(stage);
      const named = attributeTexts(stage);
      // Hosts that the page names, in an attribute of the element or for content of slots, are the page's choice.
      const isOwn = (address: string) => !named.some(text => text.includes(`//${new URL(address).host}`));
      return [...new Set([...noted('request'), ...foreignResources()])]
        .filter(isOwn)
        .map(address =>
          failure(
            walked,
            'no request to another host',
            `it asked ${address}`,
            'Take the URL from an attribute, or bundle the file.',
          ),
        );
    },
  },
];
