/** A value as text for an address: JSON, deflated, in the alphabet of URLs (RFC 4648 §5). */

async function through(bytes: BlobPart, stream: TransformStream): Promise<Uint8Array> {
  return new Uint8Array(await new Response(new Blob([bytes]).stream().pipeThrough(stream)).arrayBuffer());
}

export async function packed(value: unknown): Promise<string> {
  const bytes = await through(JSON.stringify(value), new CompressionStream('deflate-raw'));
  return btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '');
}

/** @throws Error for a text that `packed` did not make. */
export async function unpacked<T>(text: string): Promise<T> {
  const bytes = Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), letter => letter.charCodeAt(0));
  return JSON.parse(new TextDecoder().decode(await through(bytes, new DecompressionStream('deflate-raw')))) as T;
}
