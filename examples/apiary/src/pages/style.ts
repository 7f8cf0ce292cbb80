import { stylesheet } from 'eltrix';

/** What the application's pages share. */
export const pageStyle = stylesheet`
  :host { display: block; }
  h1 { margin: 0 0 4px; font-size: clamp(1.5rem, 4vw, 2rem); letter-spacing: -0.02em; line-height: 1.2; }
  h1:focus { outline: none; }
  h2 { margin: 0 0 12px; font-size: 1.1rem; }
  .lead { margin: 0 0 22px; color: light-dark(#6b6454, #b3ab98); }
  section { margin-top: 28px; }
  .cards { display: grid; grid-template-columns: repeat(auto-fill, minmax(min(100%, 240px), 1fr)); gap: 18px; }
  .panel { padding: 18px 20px; border: 1px solid light-dark(#e4ddcd, #3b372e); border-radius: 14px; background: light-dark(#fffdf8, #24221d); }
  .two { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(100%, 420px), 1fr)); gap: 20px; align-items: start; }
  .two > div { display: grid; gap: 20px; min-width: 0; }
  .two section { min-width: 0; margin: 0; }
  a { color: light-dark(#7a4a00, #f3c14b); }
  button.plain { padding: 6px 14px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
  button.plain:disabled { opacity: 0.5; cursor: default; }
  :focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
`;
