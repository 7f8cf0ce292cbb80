/** A report as one self-contained HTML page: elements by rules, filters, pictures of specimens by engine. */
import { escaped, htmlPage } from '../../project/report-page.ts';
import type { CheckedElement, CheckResult } from '../elements/check.ts';
import type { RuleResult } from '../page/model.ts';
import { ruleGroups } from './rules.ts';
import { count, failuresOf, verdict } from './summary.ts';

const signs = { passes: '✓', fails: '✕', 'not-applicable': '·', exempt: '○' } as const;
const words = { passes: 'passes', fails: 'fails', 'not-applicable': 'not applicable', exempt: 'exempt' } as const;

/** One rule of one element in all engines: the worst outcome counts. */
function together(
  element: CheckedElement,
  rule: string,
): { outcome: RuleResult['outcome']; engines: [string, RuleResult][] } | undefined {
  const engines = Object.entries(element.engines).flatMap(([name, results]): [string, RuleResult][] => {
    const result = results.find(one => one.rule === rule);
    return result ? [[name, result]] : [];
  });
  if (engines.length === 0) return undefined;
  const outcomes = engines.map(([, { outcome }]) => outcome);
  const outcome = outcomes.includes('fails')
    ? 'fails'
    : outcomes.includes('passes')
      ? 'passes'
      : outcomes.includes('exempt')
        ? 'exempt'
        : 'not-applicable';
  return { outcome, engines };
}

function cell(element: CheckedElement, rule: string, title: string): string {
  const found = together(element, rule);
  if (!found) return '<td class="none"></td>';
  const { outcome, engines } = found;
  const failing = engines.filter(([, { outcome }]) => outcome === 'fails').map(([name]) => name);
  const where = outcome === 'fails' && failing.length < engines.length ? ` in ${failing.join(', ')}` : '';
  const why = outcome === 'exempt' ? `: ${engines[0]![1].reason}` : '';
  const label = `${element.tag} ${title}: ${words[outcome]}${where}${why}`;
  const sign = outcome === 'fails' ? `<a href="#${element.tag}-${rule}">${signs.fails}</a>` : signs[outcome];
  return `<td class="${outcome}" title="${escaped(label)}"><span class="sr">${escaped(words[outcome] + where)}</span><span aria-hidden="${outcome !== 'fails'}">${sign}</span></td>`;
}

function failures(element: CheckedElement): string {
  const seen = new Set<string>();
  const lines = failuresOf(element).map(
    ({ rule, engines, failure: { did, expected, seen: saw, fix, pictures: compared } }) => {
      // The matrix links to the first one of a rule.
      const id = seen.has(rule) ? '' : ` id="${element.tag}-${rule}"`;
      seen.add(rule);
      return `<article${id}><h3><code>${element.tag}</code> ${escaped(rule)} <small>${escaped(engines.join(', '))}</small></h3>
<dl><dt>Did</dt><dd>${escaped(did)}</dd><dt>Expected</dt><dd>${escaped(expected)}</dd><dt>Seen</dt><dd>${escaped(saw)}</dd><dt>Fix</dt><dd>${escaped(fix)}</dd></dl>${
        compared
          ? `<div class="row">${compared.map(({ name, png }) => `<figure><img alt="${escaped(name)}" loading="lazy" src="data:image/png;base64,${png}"><figcaption>${escaped(name)}</figcaption></figure>`).join('')}</div>`
          : ''
      }</article>`;
    },
  );
  return lines.join('\n');
}

/** Rules from which an element is exempt, with the reasons. */
function exempt(elements: readonly CheckedElement[]): string {
  const rows = elements.flatMap(({ tag, engines }) => {
    const reasons = new Map(
      Object.values(engines)
        .flat()
        .flatMap(({ rule, outcome, reason }) => (outcome === 'exempt' ? [[rule, reason ?? ''] as const] : [])),
    );
    return [...reasons].map(([rule, reason]) => `<li><code>${tag}</code> ${escaped(rule)}: ${escaped(reason)}</li>`);
  });
  return rows.length > 0 ? `<h2>Exempt</h2>\n<ul>${rows.join('')}</ul>` : '';
}

function pictures(element: CheckedElement): string {
  const engines = Object.entries(element.pictures);
  if (engines.length === 0) return '';
  const rows = element.specimens.map((title, at) => {
    const shown = engines.map(([name, list]) => {
      const png = list[at];
      return png
        ? `<figure><img alt="${escaped(`${element.tag}, ${title}, in ${name}`)}" loading="lazy" width="480" height="300" src="data:image/png;base64,${Buffer.from(png).toString('base64')}"><figcaption>${escaped(name)}</figcaption></figure>`
        : '';
    });
    return `<h4>${escaped(title)}</h4><div class="row">${shown.join('')}</div>`;
  });
  return `<details data-tag="${element.tag}"><summary><code>${element.tag}</code> ${element.specimens.length} specimen${element.specimens.length === 1 ? '' : 's'}</summary>${rows.join('')}</details>`;
}

export function reportPage({ elements, engines }: CheckResult, project: string): string {
  // A rule without results was not checked: pictures are compared separately.
  const wasRun = (rule: string) => elements.some(element => together(element, rule));
  const groups = ruleGroups
    .map(({ title, rules }) => ({
      title,
      rules: Object.fromEntries(Object.entries(rules).filter(([rule]) => wasRun(rule))),
    }))
    .filter(({ rules }) => Object.keys(rules).length > 0);
  const failed = elements.map(failures).join('');
  return htmlPage({
    title: `${project}: conformance`,
    style: `.scroll { width: fit-content; max-width: 100%; overflow-x: auto; border: 1px solid var(--line); border-radius: 10px; background: var(--raised); }
table { border-collapse: collapse; font-size: 13px; }
thead th { vertical-align: bottom; font-weight: 400; }
thead .group { padding: 8px 6px 0; border-inline-start: 1px solid var(--line); text-align: start; font-size: 12px; font-weight: 600; color: var(--muted); }
thead .rule { height: 226px; padding: 0; }
thead .rule span { display: block; writing-mode: vertical-rl; transform: rotate(180deg); max-height: 220px; margin: 0 auto 8px; padding: 0; font-size: 12px; line-height: 1.1; white-space: nowrap; }
tbody th { position: sticky; inset-inline-start: 0; padding: 5px 14px; background: var(--raised); text-align: start; font-weight: 600; white-space: nowrap; }
td { width: 24px; min-width: 24px; height: 28px; padding: 0; border-top: 1px solid var(--line); text-align: center; }
tbody th { border-top: 1px solid var(--line); }
thead td { border: 0; }
td.first { border-inline-start: 1px solid var(--line); }
td.passes { color: var(--good); }
td.not-applicable, td.exempt { color: var(--muted); }
td.fails { background: var(--bad-paper); }
td.fails a { display: block; color: var(--bad); font-weight: 700; text-decoration: none; }
.sr { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
article small { font-weight: 400; color: var(--muted); }
dl { display: grid; grid-template-columns: 90px 1fr; gap: 3px 12px; margin: 0; font-size: 13.5px; }
dt { color: var(--muted); }
dd { margin: 0; overflow-wrap: anywhere; }
details { margin-bottom: 8px; padding: 10px 14px; border: 1px solid var(--line); border-radius: 8px; background: var(--raised); }
summary { cursor: pointer; }
.well { color: var(--good); font-weight: 600; }`,
    body: `<main>
<h1>${escaped(project)}: conformance</h1>
<p class="facts"><b>${elements.length}</b> element${elements.length === 1 ? '' : 's'} in ${escaped(engines.join(', '))}: ${verdict({ elements }).replace(/\d+/g, '<b>$&</b>')}; ${count({ elements }, 'not-applicable')} do not apply.</p>
<form id="filter"><label>Element <input type="search" name="tag" placeholder="part of its tag"></label><label><input type="checkbox" name="failing"> only what fails</label></form>
<div class="scroll" tabindex="0" role="region" aria-label="Elements by rules"><table>
<thead>
<tr><td class="none"></td>${groups.map(({ title, rules }) => `<th class="group" scope="colgroup" colspan="${Object.keys(rules).length}">${escaped(title)}</th>`).join('')}</tr>
<tr><td class="none"></td>${groups.flatMap(({ rules }) => Object.entries(rules).map(([code, title]) => `<th class="rule" scope="col" title="${escaped(code)}"><span>${escaped(title)}</span></th>`)).join('')}</tr>
</thead>
<tbody>
${elements
  .map(element => {
    const failing = Object.values(element.engines)
      .flat()
      .some(({ outcome }) => outcome === 'fails');
    return `<tr data-tag="${element.tag}" data-failing="${failing}"><th scope="row"><code>${element.tag}</code></th>${groups.flatMap(({ rules }) => Object.entries(rules).map(([code, title]) => cell(element, code, title))).join('')}</tr>`;
  })
  .join('\n')}
</tbody>
</table></div>
<h2>What fails</h2>
${failed || '<p class="well">Nothing.</p>'}
${exempt(elements)}
${elements.some(({ pictures }) => Object.keys(pictures).length > 0) ? `<h2>Specimens</h2>\n${elements.map(pictures).join('\n')}` : ''}
</main>
<script>
const form = document.querySelector('#filter');
const show = () => {
  const { tag, failing } = form.elements;
  for (const row of document.querySelectorAll('[data-tag]'))
    row.hidden = !row.dataset.tag.includes(tag.value.trim().toLowerCase()) || (failing.checked && row.dataset.failing === 'false');
};
form.addEventListener('input', show);
form.addEventListener('submit', event => event.preventDefault());
</script>`,
  });
}
