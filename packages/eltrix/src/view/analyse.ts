/**
 * Parses the static strings of a template and classifies each expression. It needs no DOM, so a build runs it in Node
 * as well. It follows the tokenization stage of HTML's parser (§13.2.5) as far as templates need it.
 */

export type Namespace = 'html' | 'svg' | 'math';

interface Place {
  /** The number of the marked node. */
  readonly node: number;
  /** The index of the first expression among the template's expressions. */
  readonly expression: number;
  /** How many expressions belong to it. */
  readonly count: number;
  /** Its line in the markup, from 1. */
  readonly line: number;
}

/**
 * One binding of a template. `statics` are the texts around its expressions: one more than there are expressions, with
 * character references as written.
 */
export type Site = Place &
  (
    | { readonly kind: 'content' }
    | {
        readonly kind: 'attribute';
        readonly name: string;
        /** The element's tag, in lower case. */
        readonly tag: string;
        /** Whether it is in SVG or MathML. */
        readonly foreign: boolean;
        readonly statics: readonly string[];
      }
    | { readonly kind: 'listener'; readonly type: string; readonly tag: string }
    | { readonly kind: 'element'; readonly tag: string }
    /** The text inside `<textarea>` or `<title>`. */
    | { readonly kind: 'text'; readonly statics: readonly string[] }
    /** A `style` attribute without expressions: set through CSSOM, since a strict policy refuses the attribute. */
    | { readonly kind: 'style'; readonly text: string }
  );

export interface Analysis {
  /**
   * HTML with a comment `<!--eltrix0-->` in place of each content expression, and `data-eltrix="0"` on elements with
   * bindings.
   */
  readonly html: string;
  readonly sites: readonly Site[];
  readonly namespace: Namespace;
  /** How many nodes are marked. */
  readonly nodes: number;
}

/** A mistake in a template. */
export class MarkupError extends SyntaxError {
  override readonly name = 'SyntaxError';

  constructor(
    /** A stable code of the mistake. */
    readonly code: string,
    message: string,
    /** The line of the markup, from 1. */
    readonly line: number,
    /** The index of the expression, from 0. */
    readonly expression: number,
  ) {
    super(__DEV__ ? `(${code}): In line ${line} of the markup, expression ${expression + 1}: ${message}` : code);
  }
}

/** The error for an expression inside an element that the HTML parser drops. */
export function lostExpression({ expression, line }: Pick<Site, 'expression' | 'line'>): MarkupError {
  return new MarkupError(
    'hole-lost',
    __DEV__
      ? 'HTML does not allow its element there and drops it with the expression. Move it to an allowed place.'
      : '',
    line,
    expression,
  );
}

export const commentMark = 'eltrix';
export const elementMark = 'data-eltrix';

/** Elements with raw text content: a value in it could end the element. */
const rawElements = /^(?:script|style|xmp|iframe|noembed|noframes|plaintext)$/;
const textElements = /^(?:textarea|title)$/;
/** Elements of SVG and MathML whose content is HTML (HTML §13.2.6, HTML integration points). */
const htmlAgain = /^(?:foreignobject|desc|title|annotation-xml)$/;

/** The state of the tokenizer, named after the states of HTML §13.2.5. */
type State =
  | 'data'
  | 'tag name'
  | 'attributes'
  | 'attribute name'
  | 'before value'
  | 'value'
  | 'comment'
  | 'bogus comment'
  | 'cdata'
  | 'raw text'
  | 'text only';

const patterns = {
  text: /[^<]+/y,
  commentStart: /<!--(?:-?>)?/y,
  cdataStart: /<!\[CDATA\[/y,
  bogusStart: /<(?:[!?]|\/[^a-zA-Z>])/y,
  tagStart: /<\/?(?=[a-zA-Z])/y,
  tagName: /[^\t\n\f\r />]+/y,
  gap: /[\t\n\f\r /]+/y,
  attributeName: /[^\t\n\f\r />][^\t\n\f\r />=]*/y,
  equals: /[\t\n\f\r ]*=[\t\n\f\r ]*/y,
  quote: /["']/y,
  doubleQuoted: /[^"]+/y,
  singleQuoted: /[^']+/y,
  unquoted: /[^\t\n\f\r >]+/y,
  commentEnd: /[^]*?--!?>/y,
  bogusEnd: /[^>]*>/y,
  cdataEnd: /[^]*?\]\]>/y,
  rest: /[^]+/y,
};

/**
 * @throws MarkupError for an expression where none is possible, and for markup that ends inside a tag.
 */
export function analyse(strings: readonly string[], namespace: Namespace = 'html'): Analysis {
  const sites: Site[] = [];
  /**
   * Open elements that change the rules, innermost last. `svg` and `math` begin foreign content, others end it.
   * `script` and `style` in foreign content are rejected, although the tokenizer reads them like any other element.
   */
  const open: string[] = namespace === 'html' ? [] : [namespace];
  let html = '';
  let nodes = 0;
  let line = 1;
  let expression = 0;
  let state: State = 'data';

  // The current tag and its attribute.
  let tag = '';
  let closing = false;
  let selfClosing = false;
  let element = -1;
  let name = '';
  let quote = '';
  /** The current value, or the text of a raw text element, since the last expression. */
  let value = '';
  /** The texts before each expression in the current value. */
  let statics: string[] = [];
  let firstExpression = 0;

  let input = '';
  let at = 0;
  const take = (pattern: RegExp): string => {
    pattern.lastIndex = at;
    const found = pattern.exec(input)?.[0] ?? '';
    at += found.length;
    for (let i = found.indexOf('\n'); i >= 0; i = found.indexOf('\n', i + 1)) line++;
    return found;
  };
  const refuse = (code: string, message: string) => new MarkupError(code, message, line, expression);
  const place = (node: number, expression: number, count: number): Place => ({ node, expression, count, line });
  const inCode = () => open.at(-1) === 'script' || open.at(-1) === 'style';
  const foreign = () => {
    const around = inCode() ? open.at(-2) : open.at(-1);
    return around === 'svg' || around === 'math';
  };
  const markElement = () => {
    if (element < 0) {
      element = nodes++;
      html += ` ${elementMark}="${element}"`;
    }
    return element;
  };

  const refuseCode = (tag: string) =>
    tag === 'style'
      ? refuse('hole-in-style', __DEV__ ? styleAdvice : '')
      : refuse(
          'hole-in-script',
          __DEV__
            ? `<${tag}> cannot contain an expression: its value would become code. Use a listener, or set a property.`
            : '',
        );

  const meetExpression = () => {
    switch (state) {
      case 'data':
        if (inCode()) throw refuseCode(open.at(-1)!);
        if (input.endsWith('<')) throw refuse('hole-in-tag', __DEV__ ? tagAdvice : '');
        html += `<!--${commentMark}${nodes}-->`;
        sites.push({ kind: 'content', ...place(nodes++, expression, 1) });
        break;
      case 'attributes':
        sites.push({ kind: 'element', tag: tag.toLowerCase(), ...place(markElement(), expression, 1) });
        break;
      case 'before value':
      case 'value':
      case 'text only':
        if (statics.length === 0) firstExpression = expression;
        statics.push(value);
        value = '';
        if (state === 'before value') state = 'value';
        break;
      case 'tag name':
        throw refuse('hole-in-tag', __DEV__ ? tagAdvice : '');
      case 'attribute name':
        throw refuse('hole-in-name', __DEV__ ? nameAdvice : '');
      case 'raw text':
        throw refuseCode(tag);
      default:
        throw refuse('hole-in-comment', __DEV__ ? commentAdvice : '');
    }
  };

  const endAttribute = () => {
    if (statics.length > 0) {
      const texts = [...statics, value];
      const where = place(markElement(), firstExpression, statics.length);
      if (/^on./i.test(name)) {
        if (texts.some(Boolean)) {
          throw refuse(
            'listener-text',
            __DEV__
              ? `"${name}" takes a function, and the attribute contains text beside it. Write ${name}=\${…} alone.`
              : '',
          );
        }
        sites.push({ kind: 'listener', type: name.slice(2), tag: tag.toLowerCase(), ...where });
      } else
        sites.push({ kind: 'attribute', name, tag: tag.toLowerCase(), foreign: foreign(), statics: texts, ...where });
    } else if (name.toLowerCase() === 'style' && !closing) {
      sites.push({ kind: 'style', text: value, ...place(markElement(), expression, 0) });
    } else html += quote ? ` ${name}=${quote}${value}${quote}` : ` ${name}="${value.replaceAll('"', '&quot;')}"`;
    statics = [];
    value = '';
  };

  const endTag = (): State => {
    html += selfClosing ? '/>' : '>';
    tag = tag.toLowerCase();
    if (closing) {
      const opened = open.lastIndexOf(tag);
      if (opened >= 0) open.length = opened;
      return 'data';
    }
    const inForeign = foreign();
    if (tag === 'svg' || tag === 'math' || (inForeign && htmlAgain.test(tag))) {
      if (!(inForeign && selfClosing) && !(selfClosing && (tag === 'svg' || tag === 'math'))) open.push(tag);
    } else if (inForeign && !selfClosing && (tag === 'script' || tag === 'style')) open.push(tag);
    else if (!inForeign && rawElements.test(tag)) return 'raw text';
    else if (!inForeign && textElements.test(tag)) return 'text only';
    return 'data';
  };

  const endTextOnly = () => {
    if (statics.length > 0) {
      if (element < 0) {
        // The tag has been copied: insert the mark before its ">".
        html = html.slice(0, -1);
        markElement();
        html += '>';
      }
      sites.push({ kind: 'text', statics: [...statics, value], ...place(element, firstExpression, statics.length) });
    } else html += value;
    statics = [];
    value = '';
  };

  const step = (): State => {
    switch (state) {
      case 'data': {
        html += take(patterns.text);
        if (at === input.length) return 'data';
        const comment = take(patterns.commentStart);
        // Comments of the author are not needed on the page; a build removes them as well.
        if (comment) return comment.endsWith('>') ? 'data' : 'comment';
        if (foreign()) {
          const cdata = take(patterns.cdataStart);
          html += cdata;
          if (cdata) return 'cdata';
        }
        const bogus = take(patterns.bogusStart);
        if (bogus) return 'bogus comment';
        const start = take(patterns.tagStart);
        if (!start) {
          html += input[at++];
          return 'data';
        }
        html += start;
        closing = start === '</';
        selfClosing = false;
        tag = '';
        element = -1;
        return 'tag name';
      }
      case 'tag name': {
        const more = take(patterns.tagName);
        tag += more;
        html += more;
        return at === input.length ? 'tag name' : 'attributes';
      }
      case 'attributes': {
        const gap = take(patterns.gap);
        if (gap) selfClosing = gap.endsWith('/');
        if (at === input.length) return 'attributes';
        if (input[at] === '>') {
          at++;
          return endTag();
        }
        name = '';
        selfClosing = false;
        return 'attribute name';
      }
      case 'attribute name': {
        name += take(patterns.attributeName);
        if (at === input.length) return 'attribute name';
        if (!take(patterns.equals)) {
          html += ` ${name}`;
          return 'attributes';
        }
        quote = take(patterns.quote);
        return quote || at < input.length ? 'value' : 'before value';
      }
      case 'before value':
      case 'value': {
        value += take(quote === '"' ? patterns.doubleQuoted : quote ? patterns.singleQuoted : patterns.unquoted);
        if (at === input.length) return 'value';
        if (quote) at++;
        endAttribute();
        return 'attributes';
      }
      case 'comment':
      case 'bogus comment':
      case 'cdata': {
        const end = take(
          state === 'comment' ? patterns.commentEnd : state === 'cdata' ? patterns.cdataEnd : patterns.bogusEnd,
        );
        const text = end || take(patterns.rest);
        if (state === 'cdata') html += text;
        return end ? 'data' : state;
      }
      default: {
        const end = new RegExp(`</${tag}(?=[\\t\\n\\f\\r />])`, 'i').exec(input.slice(at));
        const content = end ? take(new RegExp(`[^]{${end.index}}`, 'y')) : take(patterns.rest);
        if (state === 'raw text') html += content;
        else {
          value += content;
          if (end) endTextOnly();
        }
        return end ? 'data' : state;
      }
    }
  };

  for (let i = 0; i < strings.length; i++) {
    if (i > 0) {
      expression = i - 1;
      // The end of a string ends an unquoted value only if blank space or a tag's end follows, so the state is kept.
      meetExpression();
    }
    input = strings[i]!;
    at = 0;
    while (at < input.length) state = step();
  }
  if (state === 'text only') endTextOnly();
  if (/tag name|attribute|value/.test(state)) {
    throw refuse('markup-unfinished', __DEV__ ? `The markup ends inside the tag <${tag}>. Close it with ">".` : '');
  }
  return { html, sites, namespace, nodes };
}

const tagAdvice =
  'A tag name cannot be a value. Choose between pieces of markup: ${() => (big ? markup`<h1>…</h1>` : markup`<h2>…</h2>`)}.';
const nameAdvice =
  'An attribute name cannot be a value. Put a record of properties among the attributes: <input ${{ value }}>.';
const styleAdvice =
  '<style> cannot contain an expression. Use static styleSheets = [stylesheet`…`], and a custom property, a class or a state for values that change.';
const commentAdvice = 'A comment cannot contain an expression. Remove the expression or the comment.';
