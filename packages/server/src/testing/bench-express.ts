// A bare Express that answers every request with the text it was sent: what serving a page costs without us.
import express from 'express';

process.once('message', (text) => {
  const app = express();
  app.get('/{*path}', (_request, response) => {
    response.send(String(text));
  });
  const server = app.listen(0, '127.0.0.1', () => {
    const address = server.address();
    process.send?.({ port: typeof address === 'object' ? address?.port : 0 });
  });
});
