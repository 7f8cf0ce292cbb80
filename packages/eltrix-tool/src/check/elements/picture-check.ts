/** The rule `pictures`: each specimen looks like its accepted picture, in four settings. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { Engine, Page, Session } from '../../engines/index.ts';
import type { Pictures } from '../../engines/run/stored/pictures.ts';
import type { Failure, RuleResult, Shown } from '../page/model.ts';
import type { CheckServer } from './server.ts';
import type { Subject } from './subject.ts';

/** A setting: the query of the page's URL, and the width of the window in CSS pixels. */
const circumstances = [
  { name: 'light', query: {}, width: 800 },
  { name: 'dark', query: { scheme: 'dark' }, width: 800 },
  { name: 'right to left', query: { rtl: '' }, width: 800 },
  { name: '400 px', query: {}, width: 400 },
] as const;

/** How long to wait until a page is at rest, in milliseconds. */
const patience = 4000;

/** @returns the result of each element, by tag. */
export async function comparePictures(
  engine: Engine,
  running: Session,
  server: CheckServer,
  subjects: readonly Subject[],
  pictures: Pictures,
): Promise<Map<string, RuleResult>> {
  const session = engine.picturesApart ? await engine.start({ pictures: true }) : running;
  try {
    return await compareIn(session, server, subjects, pictures);
  } finally {
    if (session !== running) await session.close();
  }
}

async function compareIn(
  session: Session,
  server: CheckServer,
  subjects: readonly Subject[],
  pictures: Pictures,
): Promise<Map<string, RuleResult>> {
  const failures = new Map<string, Failure[]>(subjects.map(({ description }) => [description.tag, []]));
  for (const { name, query, width } of circumstances) {
    let page: Page | undefined;
    for (const { description, specimens } of subjects)
      for (const [at, { title }] of specimens.entries()) {
        const { tag } = description;
        const address = `${server.base}picture?${new URLSearchParams({ tag, at: String(at), ...query })}`;
        if (page) await page.go(address);
        else page = await session.open(address, { viewport: { width, height: 600 } });
        const limit = () => sleep(patience, undefined, { ref: false });
        const shown = await Promise.race([
          page.evaluate<Shown>('globalThis.eltrixShown').catch(() => undefined),
          limit(),
        ]);
        const shot = shown && (await Promise.race([page.screenshot().catch(() => undefined), limit()]));
        const did = `took a picture of "${title}" (${name})`;
        if (!shot) {
          failures
            .get(tag)!
            .push({ did, expected: 'a picture', seen: 'none came', fix: 'Look at it with npx eltrix serve.' });
          continue;
        }
        const { scale, ...size } = shown;
        const request = { name: `${title} ${name}`, rect: { x: 0, y: 0, ...size }, mask: [], tolerance: 0, scale };
        const of = { name: session.name, version: session.version };
        const { problem, seen = '', fix = '', attachments } = pictures.compare(of, folderOf(tag), request, shot);
        if (problem) failures.get(tag)!.push({ did, expected: 'what was accepted', seen, fix, pictures: attachments });
      }
    await page?.close();
  }
  return new Map(
    [...failures].map(([tag, failed]) => [
      tag,
      failed.length > 0
        ? { rule: 'pictures', outcome: 'fails', failures: failed }
        : { rule: 'pictures', outcome: 'passes' },
    ]),
  );
}

/** The folder of an element's pictures. */
export const folderOf = (tag: string): string => `specimens/${tag}`;
