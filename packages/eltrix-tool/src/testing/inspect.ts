/** Prints a value, on one line if it is short. */
export function inspect(value: unknown, indent = '', seen: readonly unknown[] = []): string {
  if (typeof value === 'string') return quote(value);
  if (typeof value === 'bigint') return `${value}n`;
  if (typeof value === 'function')
    return `[${/^class\b/.test(String(value)) ? 'class' : 'Function'} ${value.name || '(anonymous)'}]`;
  if (Object.is(value, -0)) return '-0';
  if (typeof value !== 'object' || value === null) return String(value);
  if (seen.includes(value)) return '[Circular]';
  if (value instanceof Error) return `[${value.name}: ${value.message}]`;
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? 'Invalid Date' : value.toISOString();
  if (value instanceof RegExp) return String(value);
  if ('outerHTML' in value) return String((value as Element).outerHTML).slice(0, 200);
  if ('nodeName' in value && 'textContent' in value)
    return `${String(value.nodeName)} ${quote(String(value.textContent))}`;
  const inner = `${indent}  `;
  const show = (item: unknown) => inspect(item, inner, [...seen, value]);
  const name = (Object.getPrototypeOf(value) as object | null)?.constructor?.name;
  const wrap = (open: string, items: readonly string[], close: string) => {
    const line = `${open} ${items.join(', ')} ${close}`;
    if (items.length === 0) return open + close;
    return line.length + indent.length <= 72 && !line.includes('\n')
      ? line
      : `${open}\n${items.map(item => inner + item).join(',\n')}\n${indent}${close}`;
  };
  if (Array.isArray(value)) return wrap('[', Array.from(value, show), ']');
  if (value instanceof Map)
    return wrap(
      `Map(${value.size}) {`,
      [...value].map(([k, v]) => `${show(k)} => ${show(v)}`),
      '}',
    );
  if (value instanceof Set) return wrap(`Set(${value.size}) {`, [...value].map(show), '}');
  const entries = Object.entries(value).map(
    ([key, item]) => `${/^[\w$]+$/.test(key) ? key : quote(key)}: ${show(item)}`,
  );
  return wrap(name === 'Object' ? '{' : `${name ?? '[Object: null prototype]'} {`, entries, '}');
}

function quote(text: string): string {
  return `'${text.replace(/\\/g, '\\\\').replace(/'/g, "\\'").replace(/\n/g, '\\n')}'`;
}
