/** Takes pictures of specimens for the report. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { Engine, Page, Session } from '../../engines/index.ts';
import type { CheckServer } from './server.ts';
import type { Subject } from './subject.ts';

/** Takes a picture of each specimen of each element, all with one page. */
export async function takePictures(
  engine: Engine,
  running: Session,
  server: CheckServer,
  subjects: readonly Subject[],
): Promise<Map<string, Uint8Array[]>> {
  if (!engine.picturesApart) return takePicturesIn(running, server, subjects);
  const session = await engine.start({ pictures: true });
  try {
    return await takePicturesIn(session, server, subjects);
  } finally {
    await session.close();
  }
}

async function takePicturesIn(
  session: Session,
  server: CheckServer,
  subjects: readonly Subject[],
): Promise<Map<string, Uint8Array[]>> {
  const taken = new Map<string, Uint8Array[]>();
  let page: Page | undefined;
  const limit = () => sleep(4000, undefined, { ref: false });
  for (const { description, specimens } of subjects) {
    const list: Uint8Array[] = [];
    taken.set(description.tag, list);
    for (const at of specimens.keys()) {
      const address = `${server.base}picture?${new URLSearchParams({ tag: description.tag, at: String(at) })}`;
      if (page) await page.go(address);
      else page = await session.open(address, { viewport: { width: 480, height: 300 } });
      // A specimen that is never at rest is taken anyway.
      await Promise.race([page.evaluate('globalThis.eltrixShown').catch(() => {}), limit()]);
      const picture = await Promise.race([page.screenshot().catch(() => undefined), limit()]);
      // A driver may wait for ever for a frame without a display: then no more pictures are taken.
      if (!picture) return taken;
      list.push(picture);
    }
  }
  await page?.close();
  return taken;
}
