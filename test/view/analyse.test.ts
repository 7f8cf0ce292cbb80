/** The analysis of templates needs no DOM: it runs here in plain Node, on the built module that browsers get. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';

type Analyse = typeof import('../../packages/eltrix/src/view/analyse.ts').analyse;
const built = new URL('../../packages/eltrix/dist/development/view/analyse.js', import.meta.url).href;
const { analyse } = (await import(built)) as { analyse: Analyse };

/** What each expression of a template is, briefly. */
const expressions = (strings: TemplateStringsArray) =>
  analyse(strings).sites.map(site => {
    const detail = site.kind === 'attribute' ? site.name : site.kind === 'listener' ? site.type : '';
    return `${site.kind}${detail && ` ${detail}`}${site.count === 1 ? '' : ` ×${site.count}`}`;
  });
const template = (strings: TemplateStringsArray, ..._: unknown[]) => strings;

/** The strings of a template that the test's own compiler would rewrite. */
const plain = (...strings: string[]) => Object.assign(strings, { raw: strings }) as TemplateStringsArray;

describe('analysis', () => {
  it('classifies each expression', () => {
    const cases: [TemplateStringsArray, string[]][] = [
      [template`${0}`, ['content']],
      [template`<p>${0}${0}</p>`, ['content', 'content']],
      [template`<p a=${0} b="${0}" c='x ${0} y ${0}'>`, ['attribute a', 'attribute b', 'attribute c ×2']],
      [template`<p a=${0}${0}z>`, ['attribute a ×2']],
      [template`<p onclick=${0} onhive-open="${0}" ${0} x>`, ['listener click', 'listener hive-open', 'element']],
      [template`<textarea a=${0}>x${0}y</textarea>${0}`, ['attribute a', 'text', 'content']],
      [template`<svg><title>${0}</title><style></style></svg><title>${0}</title>`, ['content', 'text']],
      [
        template`<svg><foreignObject><textarea>${0}</textarea></foreignObject><title>${0}</title></svg>`,
        ['text', 'content'],
      ],
      [template`<!-- < " --><p title="<b>">${0}</p>`, ['content']],
      [plain('<script>if (a < b) "</p>"</' + 'script>', ''), ['content']],
      [template`<p style="color: red">${0}`, ['style ×0', 'content']],
      [template`a < b ${0}`, ['content']],
      [template`<br/><svg/>${0}<textarea/>`, ['content']],
    ];
    for (const [strings, expected] of cases) assert.deepEqual(expressions(strings), expected, strings.join('${}'));
  });

  it('marks nodes and keeps the rest of the HTML', () => {
    const { html, nodes } = analyse(template`<p class="a" id=b hidden title=${0}>x &amp; ${0}</p>`);
    assert.equal(html, '<p class="a" id="b" hidden data-eltrix="0">x &amp; <!--eltrix1--></p>');
    assert.equal(nodes, 2);
  });

  it('counts lines', () => {
    assert.throws(
      () =>
        analyse(template`<p>

<!-- ${0} -->`),
      {
        name: 'SyntaxError',
        code: 'hole-in-comment',
        line: 3,
        message:
          '(hole-in-comment): In line 3 of the markup, expression 1: A comment cannot contain an expression. Remove the expression or the comment.',
      },
    );
  });
});
