import { eltrix } from 'eltrix/vite';
import { defineConfig } from 'vite';
import { weatherService } from './weather-service.ts';

export default defineConfig({
  plugins: [eltrix(), weatherService()],
  build: { rolldownOptions: { input: ['index.html', 'plain.html'] } },
});
