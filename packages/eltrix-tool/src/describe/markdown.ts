/** Texts of authors in Markdown (CommonMark, with the tables of GitHub). */

/** A code span that may contain backticks. */
export function code(text: string): string {
  const longest = Math.max(0, ...[...text.matchAll(/`+/g)].map(([ticks]) => ticks.length));
  const fence = '`'.repeat(longest + 1);
  const edge = /^`|`$/.test(text) ? ' ' : '';
  return `${fence}${edge}${text}${edge}${fence}`;
}

/** A description, in which a tag such as `<hive-card>` is text. Code spans and emphasis stay. */
export const prose = (text: string): string =>
  text.replace(/(`+)[^`]+\1(?!`)|<|&(?=#?\w+;)/g, found => (found.length > 1 ? found : `\\${found}`));
