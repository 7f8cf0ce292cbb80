/** Runs in a page of the check: checks the rules for one element. */
import { platformAdvice } from './advice.ts';
import { frame, idle, isActive } from './idle.ts';
import type { Appearance, CheckOutcome, CheckTask, Failure, RuleResult } from './model.ts';
import { quiet } from './quiet.ts';
import { noteAfter, noteBefore } from './rules/isolation.ts';
import { inOrder, rules } from './rules.ts';
import { samplesOf } from './samples.ts';
import { type Noise, snapshot } from './snapshot.ts';
import { deepElements, Stage, Unsaid } from './stage.ts';
import { leftSince, real, said, takenNow, watchPage } from './watch.ts';

declare global {
  /** Called by the tool. */
  var eltrixOutcome: Promise<CheckOutcome>;
}

watchPage();
// A frame that rules create makes the page higher than its window. In some engines a scroll bar takes room.
document.documentElement.style.scrollbarWidth = 'none';
globalThis.eltrixOutcome = check();

async function check(): Promise<CheckOutcome> {
  const query = new URLSearchParams(location.search);
  const task = (await (await fetch(`task?${query}`)).json()) as CheckTask;
  document.head.append(Object.assign(document.createElement('base'), { href: task.base }));
  await quiet();
  noteBefore();
  const before = takenNow();
  const { tag } = task.description;
  for (const module of task.modules) {
    await import(/* @vite-ignore */ module);
    if (customElements.get(tag)) break;
  }
  await Promise.race([
    customElements.whenDefined(tag),
    new Promise(resolve => real.setTimeout.call(window, resolve, 2000)),
  ]);
  if (!customElements.get(tag)) throw new Error(`${task.modules.join(', ')} does not define <${tag}>.`);
  await quiet();
  noteAfter(leftSince(before).map(({ what }) => what));
  const stage = new Stage(task);
  const digest = task.foreign ? [] : await digestOf(stage);
  const results: RuleResult[] = [];
  const isCareful = query.has('careful');
  /** Sends the results so far to the tool, before a rule that may hang the page. */
  const report = (next: string) =>
    void real.fetch.call(window, new URL(`known${location.search}`, import.meta.url), {
      method: 'POST',
      body: JSON.stringify({ results, next }),
    });
  for (const rule of inOrder) {
    // The development library adds listeners itself, so leftovers are only checked in compiled elements.
    const isHere = task.foreign || (rule.code === 'nothing-global') === task.digestOnly;
    if (!isHere || task.without.includes(rule.code)) continue;
    if (isCareful) report(rule.code);
    results.push(await carryOut(rule, stage));
  }
  const place = ({ rule }: RuleResult) => rules.findIndex(({ code }) => code === rule);
  return { results: results.sort((a, b) => place(a) - place(b)), digest };
}

/** The attributes of the page itself. */
const pageBefore = [document.documentElement, document.body].map(
  element => [element, new Map(Array.from(element.attributes, ({ name, value }) => [name, value]))] as const,
);

function restore(element: HTMLElement, attributes: ReadonlyMap<string, string>): void {
  for (const { name } of [...element.attributes]) if (!attributes.has(name)) element.removeAttribute(name);
  for (const [name, value] of attributes)
    if (element.getAttribute(name) === value) continue;
    // The policy of the page forbids the attribute (CSP Level 3 §8.4), not the properties.
    else if (name === 'style') element.style.cssText = value;
    else element.setAttribute(name, value);
}

async function carryOut(rule: (typeof rules)[number], stage: Stage): Promise<RuleResult> {
  const { code } = rule;
  const { exempt, foreign } = stage.task;
  if (exempt[code] !== undefined) return { rule: code, outcome: 'exempt', reason: exempt[code] };
  const failed = (failures: readonly Failure[]): RuleResult => ({
    rule: code,
    outcome: 'fails',
    failures: foreign ? failures.map(one => ({ ...one, fix: platformAdvice[code] ?? one.fix })) : failures,
  });
  const before = [...said];
  try {
    const reason = rule.applies?.(stage);
    if (reason !== undefined) return { rule: code, outcome: 'not-applicable', reason };
    const found = [(await rule.run(stage)) ?? []].flat();
    return found.length > 0 ? failed(found) : { rule: code, outcome: 'passes' };
  } catch (error) {
    if (error instanceof Unsaid) return { rule: code, outcome: 'not-applicable', reason: error.message };
    const seen = error instanceof Error ? `${error.name}: ${error.message}` : String(error);
    return failed([{ did: 'ran the rule', expected: 'no error', seen, fix: 'Fix the code that throws.' }]);
  } finally {
    // It creates elements in ways that console-quiet does not judge.
    if (rule.comparesPages) said.splice(0, said.length, ...before);
    for (const node of [...document.body.children]) node.remove();
    document.adoptedStyleSheets = [];
    // A switch for the colours of the page changes these.
    for (const [element, attributes] of pageBefore) restore(element, attributes);
  }
}

/** The element's appearance in each specimen and with each attribute, to compare with the compiled file. */
async function digestOf(stage: Stage): Promise<Appearance[]> {
  const digest: Appearance[] = [];
  const noise = await stage.noise().catch(() => undefined);
  // An element that removes itself has no appearance.
  if (!noise) return digest;
  for (const [at, specimen] of stage.task.specimens.entries()) {
    const played = await stage.play(specimen, 900 + at).catch(() => undefined);
    if (!played) continue;
    const { element, end } = played;
    // Effects of sizes are visible one frame later.
    await frame();
    await frame();
    await idle();
    digest.push({ did: `showed "${specimen.title}"`, shown: await shownBy(element, noise) });
    if (at === 0) {
      for (const property of stage.task.description.properties) {
        if (property.attribute === undefined) continue;
        for (const { text } of samplesOf(property, stage.task)) {
          element.setAttribute(property.attribute, text);
          await idle();
          digest.push({
            did: `set ${property.attribute}=${JSON.stringify(text)}`,
            shown: await shownBy(element, noise),
          });
        }
      }
    }
    end();
  }
  return digest;
}

/** The appearance of an element; undefined if it changes without input. */
async function shownBy(element: Element, noise: Noise): Promise<string | undefined> {
  const first = snapshot(element, noise);
  if (!isActive()) return first;
  let isSame = true;
  const look = () => {
    isSame &&= snapshot(element, noise) === first;
  };
  // What changes to and fro may be as before at any later time.
  const observer = new MutationObserver(look);
  const inside = [element, element.shadowRoot].flatMap(tree => (tree ? [...deepElements(tree)] : []));
  for (const tree of [element, ...[element, ...inside].map(({ shadowRoot }) => shadowRoot)])
    if (tree) observer.observe(tree, { childList: true, subtree: true, characterData: true, attributes: true });
  for (const ms of [5, 15, 40]) {
    await new Promise(resolve => real.setTimeout.call(window, resolve, ms));
    look();
  }
  observer.disconnect();
  return isSame ? first : undefined;
}
