/** Text as HTML source. A carriage return is written as a reference, since a parser turns it into a line feed (HTML §13.2.3.5). */

const inText = /[&<>\r]/g;
const inAttribute = /[&"<>\r]/g;

const references: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\r': '&#13;',
};

const reference = (character: string) => references[character]!;

/** For text between tags. */
export function escapeText(text: string): string {
  return isPlain(text) ? text : text.replace(inText, reference);
}

/** For an attribute value between double quotes. */
export function escapeAttribute(text: string): string {
  return isPlain(text) ? text : text.replace(inAttribute, reference);
}

/** Whether a short text needs no escaping: checking its characters is faster than a regular expression. */
function isPlain(text: string): boolean {
  const { length } = text;
  if (length > 60) return false;
  for (let at = 0; at < length; at++) {
    const code = text.charCodeAt(at);
    // The characters of `inAttribute`.
    if (code === 38 || code === 60 || code === 62 || code === 34 || code === 13) return false;
  }
  return true;
}

/** For JSON inside `<script>`: nothing in it can end the element or open a comment (HTML §4.12.1.3). */
export function escapeJson(value: unknown): string {
  return JSON.stringify(value).replace(/[<>]/g, sign => (sign === '<' ? '\\u003c' : '\\u003e'));
}

/** CSS inside `<style>`: `</style` cannot end the element. */
export function escapeCss(css: string): string {
  return css.replace(/<\/(?=style)/gi, '<\\/');
}
