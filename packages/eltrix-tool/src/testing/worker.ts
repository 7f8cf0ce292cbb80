/**
 * The worker that sends a test page's messages, in order, several at once if they have queued up. It answers with the
 * number of messages sent. A request states the number of its first message.
 */
export const workerScript = `
let address, queue = [], sending = false, sent = 0;
onmessage = ({ data }) => {
  if (address === undefined) {
    address = data.address;
    postMessage('ready');
  }
  else {
    queue.push(data);
    if (!sending) send();
  }
};
async function send() {
  sending = true;
  while (queue.length > 0) {
    const messages = queue.splice(0);
    const body = JSON.stringify({ first: sent, messages });
    for (let tries = 0; tries < 3; tries++) {
      const arrived = await fetch(address, { method: 'POST', body }).then(response => response.ok, () => false);
      if (arrived) break;
    }
    postMessage(sent += messages.length);
  }
  sending = false;
}`;
