// A terminal's text with its colours as an HTML page, for pictures.

const basic = ['#1d1b16', '#ff8b78', '#8fd694', '#f3c969', '#8ab8ff', '#d6a3e8', '#7fd5d5', '#eae6da'];
const bright = ['#8d8a80', '#ffb0a3', '#b5e8b9', '#f8dfa0', '#b5d2ff', '#e8c9f3', '#aeeaea', '#ffffff'];

/** One of 256 colours (xterm): 16 named ones, a cube of 6 × 6 × 6, and 24 greys. */
function indexed(index) {
  if (index < 8) return basic[index];
  if (index < 16) return bright[index - 8];
  if (index >= 232) return `rgb(${Array(3).fill((index - 232) * 10 + 8)})`;
  const level = part => (part === 0 ? 0 : part * 40 + 55);
  const at = index - 16;
  return `rgb(${[at / 36, (at / 6) % 6, at % 6].map(part => level(Math.floor(part)))})`;
}

/** Follows the codes of Select Graphic Rendition (ECMA-48 §8.3.117). */
function styled(state, codes) {
  const list = (codes || '0').split(/[;:]/).map(Number);
  const next = { ...state };
  for (let i = 0; i < list.length; i++) {
    const code = list[i];
    if (code === 0) for (const key of Object.keys(next)) delete next[key];
    else if (code === 1) next.weight = 700;
    else if (code === 2) next.faint = true;
    else if (code === 3) next.italic = true;
    else if (code === 4) next.underline = true;
    else if (code === 7) next.inverse = true;
    else if (code === 22) delete next.weight;
    else if (code === 24) delete next.underline;
    else if (code === 27) delete next.inverse;
    else if (code === 39) delete next.colour;
    else if (code === 49) delete next.background;
    else if (code === 38 || code === 48) {
      const key = code === 38 ? 'colour' : 'background';
      if (list[i + 1] === 5) next[key] = indexed(list[(i += 2)]);
      else if (list[i + 1] === 2) next[key] = `rgb(${list.slice(i + 2, (i += 4) + 1)})`;
    } else if (code >= 30 && code < 38) next.colour = basic[code - 30];
    else if (code >= 40 && code < 48) next.background = basic[code - 40];
    else if (code >= 90 && code < 98) next.colour = bright[code - 90];
    else if (code >= 100 && code < 108) next.background = bright[code - 100];
  }
  return next;
}

function css({ colour = '#eae6da', background = '#1d1b16', weight, faint, italic, underline, inverse }) {
  const [front, back] = inverse ? [background, colour] : [colour, background];
  return [
    `color:${front}`,
    back === '#1d1b16' ? '' : `background:${back}`,
    weight ? 'font-weight:700' : '',
    faint ? 'opacity:.65' : '',
    italic ? 'font-style:italic' : '',
    underline ? 'text-decoration:underline' : '',
  ]
    .filter(Boolean)
    .join(';');
}

/** @param text with escape sequences for colours. @param head a line above, the call for example. */
export function terminalPage(text, head = '') {
  let state = {};
  const escaped = part => part.replace(/&/g, '&amp;').replace(/</g, '&lt;');
  const body = text
    .split(/\u001b\[([\d;:]*)m/)
    .map((part, i) => {
      if (i % 2) state = styled(state, part);
      return i % 2 || part === '' ? '' : `<span style="${css(state)}">${escaped(part)}</span>`;
    })
    .join('');
  return `<!doctype html><meta charset="utf-8"><style>
    body { margin: 0; background: #1d1b16; color: #eae6da; font: 14px/1.45 "DejaVu Sans Mono", monospace }
    pre { margin: 0; padding: 24px 28px; white-space: pre-wrap }
  </style><pre>${head && `<span style="color:#8d8a80">${escaped(head)}</span>\n`}${body}</pre>`;
}
