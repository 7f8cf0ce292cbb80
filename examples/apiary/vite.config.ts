import { eltrix } from 'eltrix-tool/vite';
import { defineConfig } from 'vite';
import { weatherService } from './weather-service.ts';

export default defineConfig({
  plugins: [eltrix(), weatherService()],
  build: {
    // light-dark() stays as it is, so that the reader's choice counts.
    cssTarget: ['chrome123', 'firefox120', 'safari17.5'],
    rolldownOptions: { input: ['index.html', 'plain.html'] },
  },
});
