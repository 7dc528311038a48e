import { openSink } from './sink';

/** The sink in a process of its own, so that its work does not count as the sender's. Says its port, and on request what it took. */
const sink = await openSink(0, false);
let told = 0;
process.send?.({ port: sink.port });
process.on('message', (asked) => {
  if (asked === 'count') return process.send?.({ taken: sink.mails.length });
  const times = sink.mails.slice(told).map(({ atMs }) => atMs);
  told += times.length;
  return process.send?.({ times });
});
