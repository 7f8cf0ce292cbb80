/** Built style sheets do in each engine what they do as written. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { bundledCss } from '../../packages/eltrix-tool/src/project/bundled-css.ts';
import { minifyCss } from '../../packages/eltrix-tool/src/project/minify-css.ts';
import { withPages } from '../support/bundled-page.ts';
import { random, seed } from '../support/random.ts';

describe('minified CSS', () => {
  const pairs: Readonly<Record<string, readonly [written: string, minified: string]>> = {
    'white space and comments': [
      'a  >  b ,\n c /* x */ d { color : red ; margin: 0 /* y */ 1px ; }\n\n',
      'a>b,c d{color:red;margin:0 1px}',
    ],
    'a selector that looks like a declaration': ['a { b :hover { x: y } &:hover{} }', 'a{b :hover{x:y}&:hover{}}'],
    'arguments of selectors': [
      ':is( a :hover , b ) + :nth-child( 2n + 1 of .c ){}',
      ':is(a :hover,b)+:nth-child(2n + 1 of .c){}',
    ],
    'custom properties as scripts read them': [
      ':host { --a:  x  /* y */ 0.50 ; --b:; --c: { d : e; } ; }',
      ':host{--a:x  /* y */ 0.50;--b: ;--c:{ d : e; }}',
    ],
    'a name that expressions may change to a custom property': [
      'a{--\u{10fffd}1\u{10fffd}: 0.50  x;}',
      'a{--\u{10fffd}1\u{10fffd}:0.50  x}',
    ],
    'what may be a custom property': [
      'a{ \\2d-x : 0.50  y ; \u{10fffd}1\u{10fffd}  --z: a  + b } @property --p { initial-value:  0.50  x }',
      'a{\\2d-x:0.50  y;\u{10fffd}1\u{10fffd}  --z: a  + b}@property --p{initial-value:0.50  x}',
    ],
    'signs in values': [
      'a { grid-area: 1 / 2; x: calc( 1px + 2px ) ! important; y: a / * b }',
      'a{grid-area:1/2;x:calc(1px + 2px)!important;y:a/ * b}',
    ],
    'numbers, but not whole ones': ['a { x: 0.5px -0.50 +0.25 1.0 0.0 }', 'a{x:.5px -.50 +.25 1.0 .0}'],
    queries: [
      '@media screen and ( min-width : 10px ) { } @container a ( width >= 10px ) { } @media (width > = 1px) { }',
      '@media screen and (min-width:10px){}@container a (width>=10px){}@media (width> =1px){}',
    ],
    'conditions with selectors and custom properties': [
      '@supports selector( a :hover ) { } @container style( --a: b  c ) { } @scope (a :hover) to (b > c) { }',
      '@supports selector(a :hover){}@container style( --a: b  c ){}@scope (a :hover) to (b > c){}',
    ],
    'tokens that would become others': ['a/**/b{x:c/**/d;y:1px/**/2px}', 'a/**/b{x:c/**/d;y:1px/**/2px}'],
    'escapes, strings and addresses': [
      '.\\31  b { x: " a  b " url( " a  b " ) ; y: url( x.png )  z }',
      '.\\31  b{x:" a  b " url(" a  b ");y:url( x.png ) z}',
    ],
    'statements without a block': [
      '@layer a , b ; @namespace x url( y ) ; a { @layer c; }',
      '@layer a,b;@namespace x url( y );a{@layer c;}',
    ],
    'what is not closed': ['a { b: c; d { e: ( f; g: h }', 'a{b:c;d{e:(f; g: h }'],
    'what no engine knows yet': [
      '@new thing { a :b ; } a { new-property : x  y }',
      '@new thing{a:b}a{new-property:x y}',
    ],
  };
  for (const [name, [written, minified]] of Object.entries(pairs))
    it(name, () => {
      assert.deepEqual(minifyCss(written), { css: minified });
      assert.deepEqual(minifyCss(minified), { css: minified });
    });

  it('is as written where a string or an address has no end', () => {
    assert.deepEqual(minifyCss('a { }\nb { x: "y\n }'), {
      css: 'a { }\nb { x: "y\n }',
      problem: 'line 2 of it has a string without an end',
    });
  });

  it('has no byte order mark', () => {
    for (const minify of [true, false]) assert.deepEqual(bundledCss('\uFEFFp{}', minify).pieces, ['p{}']);
  });

  it('has the addresses of its files apart, with fragments', () => {
    const written = `@namespace s url(http://x.test/s);
      a { x: url( icons.svg#bee ) url("a b.png?1") url(/root.png) url(#own) url(data:,x);
        y: image-set("one.png" type("image/png") 1x, url(two.png) 2x) attr(url) }`;
    assert.deepEqual(bundledCss(written, true).pieces, [
      '@namespace s url(http://x.test/s);a{x:url("',
      { address: 'icons.svg' },
      '#bee")',
      ' url("',
      { address: 'a b.png' },
      '"',
      ') url(/root.png) url(#own) url(data:,x);y:image-set("',
      { address: 'one.png' },
      '"',
      ' type("image/png") 1x,url("',
      { address: 'two.png' },
      '")',
      ' 2x) attr(url)}',
    ]);
  });
});

/** Values for which engines, and the order in which they come, matter. */
const values: Readonly<Record<string, readonly string[]>> = {
  transform: ['rotate(45deg)', 'none', 'matrix(1, 0, 0, 1, 0, 0)', 'translate3d( 0 , 1px , 0 )', 'scale(.5 , 1)'],
  scale: ['1', '2 1', 'none'],
  translate: ['1px 2px', '0'],
  rotate: ['0deg', 'x 45deg'],
  'mask-image': ['-webkit-linear-gradient(top, red, blue)', 'linear-gradient( to bottom , red 30% , blue )'],
  background: ['-webkit-linear-gradient(top, red, blue)', 'center / cover no-repeat red', 'rgb( 1 2 3 / .5 )', 'none'],
  'background-clip': ['text', 'border-box'],
  '-webkit-background-clip': ['text', 'padding-box'],
  color: [
    'rgb(from red r g b / 50%)',
    'color-mix( in oklab , red , var(--c) )',
    'red',
    'unknown',
    'var( --none , green )',
  ],
  margin: ['calc( 1px + 2px ) 0 -0.50px', '0 auto', 'max( 1px , var(--n) )', '+1px'],
  'margin-inline': ['1px', '0'],
  flex: ['1 1 0', '0 0 0px', '1 0 auto', 'none'],
  font: ['bold 12px / 1.5 serif', 'italic small-caps 700 1em/normal "A  B" , Arial'],
  'grid-area': ['1 / 2 / 3 / 4', 'a', 'span 2 / auto'],
  'grid-template': ['"a b" 1fr / auto 1fr', '[x] "a" 10px [y] / [z] 1fr'],
  transition: ['color 0.1s cubic-bezier( 0.42 , 0 , 1 , 1 )', 'all 0s', '--n 1s steps( 2 , start )'],
  'clip-path': ['circle( 50% at center )', 'inset( 0 round 1px )'],
  content: ['"a" attr( title ) "\\201C"', 'counters( a , "." )', "''"],
  '-webkit-user-select': ['none'],
  'user-select': ['all'],
  display: ['-webkit-box', 'inline flex', 'block', 'list-item'],
  '-webkit-line-clamp': ['3'],
  filter: ['blur( 0 )', 'drop-shadow( red 1px 1px 0 )'],
  width: ['stretch', '-webkit-fill-available', '10PX', 'fit-content'],
  '--c': [' red ', 'a  b', 'rgb( 1 , 2 , 3 )', 'White'],
  '--n': ['5px', ' calc( 1px + 2px ) ', '', '{ a : b }', '0.50px', '/* x */ 1px'],
};
const selectors = [
  'p',
  ':host > p',
  'p:not( .b , #x )',
  '.a > b , p b',
  'b ~ b',
  'p:nth-child( 2n + 1 )',
  ':is( .a :first-child , b )',
  'b::before',
  ':host( .a ) b',
  '[title = "x y" i]',
  'p :is(b)',
  ':unknown , p',
  '*',
];
const conditions = [
  '@media ( width >= 10px )',
  '@media not all and (max-width:1px)',
  '@supports ( display : grid ) and selector( a :hover )',
  '@layer one',
  '@container (width > 1px)',
  '@container style(--c: a  b)',
  '@scope (.a) to (b > b)',
];

function sheet(next: (below: number) => number): string {
  const one = <T>(list: readonly T[]) => list[next(list.length)]!;
  const space = () => one(['', ' ', '\n  ', '/* c */', ' /* c */ ']);
  const declarations = () =>
    Array.from({ length: 1 + next(4) }, () => {
      const name = one(Object.keys(values));
      return `${space()}${name}${space()}:${space()}${one(values[name]!)}${one(['', '', ' ! important'])}${space()}`;
    }).join(';');
  const rule = (): string =>
    `${one(selectors)}${space()}{${declarations()}${next(4) === 0 ? `;& ${one(selectors).replaceAll(/:host/g, 'b')}{${declarations()}}` : ''}}`;
  return Array.from({ length: 1 + next(3) }, () =>
    next(3) === 0 ? `${one(conditions)} {${rule()}${space()}${rule()}}` : rule(),
  ).join(one(['', '\n', ' ']));
}

/** Runs in a page: how a sheet styles the elements of a shadow root. */
const look = `(css => {
  globalThis.styled ??= (() => {
    const host = document.body.appendChild(document.createElement('x-styled'));
    host.className = 'a';
    host.attachShadow({ mode: 'open' }).innerHTML = '<p class="a" title="x y">t<b>u</b><b class="b">v</b></p><div class="b"><p>w</p></div>';
    return host;
  })();
  const root = styled.shadowRoot;
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(css);
  root.adoptedStyleSheets = [sheet];
  const seen = [];
  for (const element of [styled, ...root.querySelectorAll('*')])
    for (const part of [null, '::before']) {
      const style = getComputedStyle(element, part);
      for (const name of [...style, '--c', '--n']) {
        // Some engines keep comments at the end of custom properties.
        const value = style.getPropertyValue(name).replace(/(?:\\s|\\/\\*[^]*?\\*\\/)+$/, '');
        seen.push(element.localName + (part ?? '') + ' ' + name + ': ' + value);
      }
    }
  return seen;
})`;

const count = 60;

for (const engine of foundEngines())
  it(`${count} random sheets style alike, written and minified, in ${engine.name}`, async t => {
    t.diagnostic(`ELTRIX_SEED=${seed}`);
    const next = random(seed);
    const written = [
      // The element is half as large, and twice as large under the pointer.
      'b { transform: rotate(45deg); scale: .5 } b:first-child { scale: 2 }',
      ...Array.from({ length: count }, () => sheet(next)),
    ];
    const sheets = written.map(css => [css, minifyCss(css).css]);
    const different = await withPages(engine, async open =>
      (await open('')).evaluate<[string, string, string][]>(
        `(() => { const look = ${look}; return ${JSON.stringify(sheets)}.flatMap(([written, minified]) => {
          const [before, after] = [look(written), look(minified)];
          const at = before.findIndex((text, i) => text !== after[i]);
          return at < 0 ? [] : [[written, minified, before[at] + ' → ' + after[at]]];
        }); })()`,
      ),
    );
    assert.deepEqual(different.slice(0, 3), []);
  });
