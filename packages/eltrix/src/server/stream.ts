/** Renders as a stream of bytes: each part is created when it is read. */
import type { RenderContext, Writing } from './context.ts';
import { Rendering } from './rendering.ts';

export function streamOf(
  begin: () => Promise<RenderContext>,
  write: (rendering: Rendering) => Writing | undefined,
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let rendering: Rendering | undefined;
  let writing: Iterator<string, void, undefined> | undefined;
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        rendering ??= new Rendering(await begin());
        writing ??= write(rendering) ?? [][Symbol.iterator]();
        const { value, done } = writing.next();
        controller.enqueue(encoder.encode(done ? rendering.take() : value));
        if (done) controller.close();
      },
      cancel() {
        writing?.return?.();
      },
    },
    // Rendering starts with the first read.
    { highWaterMark: 0 },
  );
}
