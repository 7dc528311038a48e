import { openSink } from './sink';

/** The sink in a process of its own, so that its work does not count as the sender's. Says its port, and on request how many it took. */
const sink = await openSink(0, false);
process.send?.({ port: sink.port });
process.on('message', () => process.send?.({ taken: sink.mails.length }));
