import { toWellFormedText } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

/**
 * A URL, like `img.src`. Reading returns an absolute URL, resolved against the document's base at that moment, or the
 * raw text if it cannot be parsed. Assigning sets the text unchanged (HTML §2.6.1, `USVString` treated as a URL).
 * @example photo: url()  // <hive-card photo="bramble.jpg">, card.photo is absolute
 */
export function url(options: KindOptions = {}): Kind<string> {
  return {
    ...common('url', options, {}),
    default: '',
    ...urlRule,
  };
}

/** The conversions. */
export const urlRule: Rule<string> = {
  read(text, host) {
    if (text === null) return '';
    try {
      return new URL(text, host.baseURI).href;
    } catch {
      return text;
    }
  },
  write: toWellFormedText,
};
