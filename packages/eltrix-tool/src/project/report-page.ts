/** The common part of HTML reports. */

export const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

export const reportStyle = `:root { color-scheme: light dark; --paper: light-dark(#f8f7f4, #15171a); --raised: light-dark(#fff, #1c1f23); --ink: light-dark(#1b1d1f, #eceae5); --muted: light-dark(#5d5b55, #a8a69f); --line: light-dark(#e2dfd7, #2f3339); --bad: light-dark(#a3271b, #ff9d8f); --bad-paper: light-dark(#fbe4e0, #4a1d17); --good: light-dark(#22682f, #8fd49a); --accent: light-dark(#0a5a66, #7ccfdc); }
* { box-sizing: border-box; }
body { margin: 0 auto; padding: 28px 28px 60px; max-width: 1400px; background: var(--paper); color: var(--ink); font: 15px/1.45 system-ui, 'DejaVu Sans', sans-serif; }
h1 { margin: 0; font-size: 24px; letter-spacing: -0.02em; }
h2 { margin: 36px 0 10px; font-size: 17px; }
h3 { margin: 0 0 8px; font-size: 15px; }
h4 { margin: 14px 0 6px; font-size: 13px; font-weight: 600; }
code { font-family: ui-monospace, 'DejaVu Sans Mono', monospace; font-size: 0.92em; }
.facts { margin: 6px 0 20px; color: var(--muted); }
.facts b { color: var(--ink); }
form { display: flex; flex-wrap: wrap; gap: 10px 18px; align-items: center; margin-bottom: 14px; font-size: 13px; }
input[type=search] { min-height: 30px; padding: 4px 8px; border: 1px solid var(--muted); border-radius: 6px; background: var(--raised); color: inherit; font: inherit; }
label { display: inline-flex; gap: 6px; align-items: center; }
article { margin-bottom: 12px; padding: 12px 16px; border: 1px solid var(--line); border-inline-start: 4px solid var(--bad); border-radius: 8px; background: var(--raised); }
.row { display: flex; flex-wrap: wrap; gap: 14px; }
figure { margin: 0; }
figure img { display: block; width: 300px; height: auto; border: 1px solid var(--line); border-radius: 6px; background: #fff; }
figcaption { font-size: 12px; color: var(--muted); }
:focus-visible { outline: 2px solid var(--accent); outline-offset: 2px; }
[hidden] { display: none !important; }`;

/** A page without further files. */
export function htmlPage({
  title,
  style,
  body,
}: {
  readonly title: string;
  readonly style: string;
  readonly body: string;
}): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<link rel="icon" href="data:,">
<title>${escaped(title)}</title>
<style>
${reportStyle}
${style}
</style>
</head>
<body>
${body}
</body>
</html>
`;
}
