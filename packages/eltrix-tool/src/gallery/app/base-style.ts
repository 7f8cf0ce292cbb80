import { stylesheet } from 'eltrix';

/** Shared styles of the page's elements: colours in light and dark, type, fields, buttons, code. */
export const baseStyle = stylesheet`
  :host {
    box-sizing: border-box;
    --paper: light-dark(#f8f7f4, #15171a);
    --raised: light-dark(#ffffff, #1c1f23);
    --sunken: light-dark(#efede8, #101215);
    --ink: light-dark(#1b1d1f, #eceae5);
    --muted: light-dark(#5d5b55, #a8a69f);
    --line: light-dark(#e2dfd7, #2f3339);
    --line-strong: light-dark(#b9b5aa, #50565e);
    --accent: light-dark(#0a5a66, #7ccfdc);
    --bad: light-dark(#a3271b, #ff9d8f);
    --good: light-dark(#22682f, #8fd49a);
    --sans: system-ui, -apple-system, "Segoe UI", Roboto, "DejaVu Sans", sans-serif;
    --mono: ui-monospace, "SF Mono", Consolas, "DejaVu Sans Mono", monospace;
    --body: 15px;
    --small: 13px;
  }
  :host([hidden]) { display: none; }
  *, ::before, ::after { box-sizing: inherit; }
  h1, h2, h3, p, ul, ol, dl, dd, figure { margin: 0; padding: 0; }
  ul, ol { list-style: none; }
  code, pre, .code { font-family: var(--mono); font-size: 0.92em; }
  a { color: inherit; }
  button, input, select, textarea { font: inherit; color: inherit; }
  :focus-visible { outline: 2px solid var(--accent); outline-offset: 2px; }
  .button {
    min-height: 28px; padding: 3px 10px; border: 1px solid var(--line-strong); border-radius: 6px; background: var(--raised);
    font-size: var(--small); white-space: nowrap; cursor: pointer;
  }
  .button:hover { border-color: var(--ink); }
  .button[aria-pressed='true'], .button[aria-selected='true'] { background: var(--ink); border-color: var(--ink); color: var(--paper); }
  .field {
    width: 100%; min-height: 30px; padding: 4px 8px; border: 1px solid var(--line-strong); border-radius: 6px; background: var(--raised);
    font-size: var(--small);
  }
  textarea.field { min-height: 64px; resize: vertical; font-family: var(--mono); font-size: 12px; line-height: 1.5; }
  .quiet { color: var(--muted); }
`;
