/** A stand-in for a weather service: `/weather?place=…`, and `/weather/slow`, `/weather/failing`, `/weather/offline`. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Plugin } from 'vite';

const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'];
const skies = ['sun', 'cloud', 'rain'] as const;

/** The same forecast for the same place, whenever it is asked. */
function forecast(place: string) {
  let seed = [...place].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 9973, 7);
  const next = () => (seed = (seed * 137 + 29) % 9973);
  return days.map(day => ({ day, sky: skies[next() % 3], high: 14 + (next() % 12) }));
}

function answer(request: IncomingMessage, response: ServerResponse, next: () => void): void {
  const { pathname, searchParams } = new URL(request.url ?? '/', 'http://localhost');
  const [, root, mode] = pathname.split('/');
  if (root !== 'weather') return next();
  const send = () =>
    void response
      .setHeader('content-type', 'application/json')
      .end(JSON.stringify(forecast(searchParams.get('place') ?? '')));
  if (mode === 'offline') request.socket.destroy();
  else if (mode === 'failing') response.writeHead(503).end();
  else if (mode === 'slow') setTimeout(send, 2500);
  else send();
}

export function weatherService(): Plugin {
  return {
    name: 'weather-service',
    configureServer: server => void server.middlewares.use(answer),
    configurePreviewServer: server => void server.middlewares.use(answer),
  };
}
