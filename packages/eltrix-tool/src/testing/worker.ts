/** The script of the worker that sends a test page's messages, in order, as many at once as have come. */
export const workerScript = `
let address, queue = [], sending = false;
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
    const body = JSON.stringify(queue.splice(0));
    for (let tries = 0; tries < 3; tries++) {
      const sent = await fetch(address, { method: 'POST', body }).then(response => response.ok, () => false);
      if (sent) break;
    }
  }
  sending = false;
}`;
