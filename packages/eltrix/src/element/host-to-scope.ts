/** Replaces `:host` by `:scope`, and `:host(x)` by `:scope:is(x)`. */
export function hostToScope(css: string): string {
  let out = '';
  let at = 0;
  for (const found of css.matchAll(/:host(?![\w-])(\()?/g)) {
    if (found.index < at) continue;
    out += css.slice(at, found.index);
    at = found.index + ':host'.length;
    if (!found[1]) {
      out += ':scope';
      continue;
    }
    let depth = 0;
    let end = at;
    do {
      if (css[end] === '(') depth++;
      else if (css[end] === ')') depth--;
      end++;
    } while (depth > 0 && end < css.length);
    out += `:scope:is${css.slice(at, end)}`;
    at = end;
  }
  return out + css.slice(at);
}
