import { useState } from 'react';
import { createRoot } from 'react-dom/client';
import type {} from '../../apiary/public/widgets/react.d.ts';
import '../../apiary/public/widgets/hive-card.js';
import './page.css';

const moods = ['calm', 'busy', 'swarming'] as const;

/** React gives attributes and properties to the element, and hears its event like any other. */
function Apiary() {
  const [mood, setMood] = useState<(typeof moods)[number]>('calm');
  const [opened, setOpened] = useState('Nothing was opened yet.');
  return (
    <main>
      <h1>A hive in React</h1>
      <p>
        <label>
          Mood{' '}
          <select value={mood} onChange={event => setMood(event.target.value as typeof mood)}>
            {moods.map(name => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      </p>
      <h2>Rosemary</h2>
      <hive-card
        name="Rosemary"
        boxes={2}
        mood={mood}
        frames={[
          { id: 1, honey: 2.5, capped: true },
          { id: 2, honey: 1.25, capped: false },
        ]}
        onhive-open={event => setOpened(`${event.detail.name} was opened.`)}
      >
        <p>Queen marked green.</p>
      </hive-card>
      <p role="status">{opened}</p>
    </main>
  );
}

createRoot(document.querySelector('#root')!).render(<Apiary />);
