/** Waits several turns of the event loop, so that all effects have run that do not wait for a frame. */
export async function quiet(): Promise<void> {
  for (let turns = 0; turns < 3; turns++) await turn();
}

const channel = new MessageChannel();
let resume: (() => void)[] = [];
channel.port1.onmessage = () => {
  const waiting = resume;
  resume = [];
  for (const resolve of waiting) resolve();
};

/** A separate task, without the delay of nested timers. */
function turn(): Promise<void> {
  return new Promise(resolve => {
    resume.push(resolve);
    channel.port2.postMessage(0);
  });
}
