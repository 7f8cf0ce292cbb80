import { toWellFormedText } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

/**
 * A URL, as `img.src` has it: read as an absolute URL against the document's base at that moment, or as the raw text
 * if it cannot be parsed; written as given (HTML §2.6.1, `USVString` treated as a URL).
 * @example photo: url()  // <hive-card photo="bramble.jpg">, card.photo is absolute
 */
export function url(options: KindOptions = {}): Kind<string> {
  return {
    kind: 'url',
    ...common(options),
    default: '',
    ...urlRule,
  };
}

/** How it reads and writes. */
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
