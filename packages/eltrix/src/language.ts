/** Language: the page's `lang` and `dir`, formatters of Intl, and texts in several languages. */
export { type Formats, formats } from './language/formats.ts';
export { direction, locale } from './language/locale.ts';
export {
  type Message,
  type Messages,
  type MessageTable,
  messages,
  type Texts,
  type Translation,
} from './language/messages.ts';
