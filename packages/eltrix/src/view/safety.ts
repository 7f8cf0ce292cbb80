/** Checks values of attributes and properties that can run code: markup, scripts, and URLs of scripts. */
import { kindOf } from '../signals/kind-of.ts';
import { isScript, spelt } from './script-address.ts';
import type { ExpressionPlace, Owner } from './template.ts';
import { policy } from './trusted.ts';
import { whereIs } from './whereabouts.ts';

/** Attributes and properties that hold a URL, or in SVG's animations a value that may become one. */
const urlNames =
  /^(?:href|src|action|formaction|data|poster|cite|background|ping|manifest|codebase|longdesc|usemap|profile|from|to|values|by|xlink:href)$/i;
/** HTML §4.8, SVG §5.6: elements whose URL loads a document or a script. */
const loaders = /^(?:iframe|embed|object|script|frame|use)$/i;

/** The Trusted Types class that a sink of markup or code expects, or undefined. */
function sinkType(tag: string, name: string): string | undefined {
  if (/^(?:innerhtml|outerhtml|srcdoc)$/i.test(name)) return 'TrustedHTML';
  if (/^script$/i.test(tag)) {
    if (/^(?:text|textcontent|innertext|innerhtml)$/i.test(name)) return 'TrustedScript';
    if (/^(?:src|href|xlink:href)$/i.test(name)) return 'TrustedScriptURL';
  }
  return undefined;
}

/** Whether the values of this attribute or property have to be checked. Known when the template is analysed. */
export function isGuarded(tag: string, name: string): boolean {
  return urlNames.test(name) || sinkType(tag, name) !== undefined || /^(?:on|__proto__$)/i.test(name);
}

/** Whether the only dangerous values of a guarded attribute are URLs of scripts. */
export function isAddress(tag: string, name: string): boolean {
  return urlNames.test(name) && sinkType(tag, name) === undefined && !loaders.test(tag) && !/^values$/i.test(name);
}

/**
 * Converts the value once: an object's `toString()` may return something else the second time. The property of a
 * custom element gets an object unchanged.
 */
export function steady(tag: string, name: string, value: unknown): unknown {
  const converts =
    typeof value === 'object' && value !== null && !tag.includes('-') && sinkType(tag, name) === undefined;
  return converts && urlNames.test(name) ? String(value) : value;
}

/** The reason to reject a value, or undefined. */
export function danger(tag: string, name: string, value: unknown): string | undefined {
  const sink = sinkType(tag, name);
  if (sink !== undefined) {
    const trusted = (globalThis as unknown as Record<string, unknown>)[sink];
    if (value === null || value === undefined || value === false) return undefined;
    if (typeof trusted === 'function' && value instanceof trusted) return undefined;
    return __DEV__
      ? `"${name}" of <${tag}> takes markup or code. Use text or markup in an expression, or give a ${sink} value.`
      : 'sink';
  }
  if (/^__proto__$/i.test(name)) return __DEV__ ? 'a property record has the key "__proto__".' : 'key';
  if (/^on/i.test(name)) return __DEV__ ? `"${name}" takes a function, and ${kindOf(value)} came.` : 'listener';
  const text = String(value);
  const parts = /^values$/i.test(name) ? text.split(';') : [text];
  for (const part of parts) {
    if (isScript(part)) return __DEV__ ? `"${name}" of <${tag}> would run a script: ${shorten(text)}.` : 'url';
    if (loaders.test(tag) && /^[\0-\x20]*data:/i.test(spelt(part))) {
      return __DEV__ ? `"${name}" of <${tag}> would load a document from a data: URL: ${shorten(text)}.` : 'url';
    }
  }
  return undefined;
}

/**
 * A checked value in the form that the sink expects. Chromium counts the URLs of `<object>` and `<embed>` as Trusted
 * Types sinks, although they load no script of this page.
 */
export function vetted(tag: string, name: string, value: unknown): unknown {
  return typeof value === 'string' && /^(?:object|embed)$/i.test(tag) && /^(?:src|data)$/i.test(name)
    ? policy().createScriptURL(value)
    : value;
}

/** The error for a rejected value; the attribute or property is not set. */
export function refusal(reason: string, home: Owner, place: ExpressionPlace | undefined): Error {
  const message = __DEV__
    ? `(unsafe-value): ${whereIs(home, place)}: ${reason} Nothing was set.`
    : `unsafe-value: ${reason}`;
  return Object.assign(new TypeError(message), { code: 'unsafe-value', expression: place?.expression });
}

export function shorten(text: string): string {
  return JSON.stringify(text.length > 60 ? `${text.slice(0, 59)}…` : text);
}
