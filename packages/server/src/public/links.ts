import type { Request, Response, Router } from 'express';
import type { Context } from '../services/context';
import { followCounted, followShort } from '../services/sending/follow-link';
import { noteOpenPicture } from '../services/sending/open-picture';
import { publicHouse, writePage } from './page';

/** One transparent point (GIF89a). */
const nothing = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

/** Links of our own that lead on: counted ones of emails, short ones of texts. They lead only where a message of the house did. */
export function linkRoutes(routes: Router, context: Context): void {
  routes.get('/l/:token', async (request, response) => {
    const visitor = { agent: request.get('user-agent') ?? '', onlyLooks: request.method === 'HEAD' };
    await lead(request, response, await followCounted(context, request.params.token, visitor));
  });
  routes.get('/k/:token', async (request, response) => {
    await lead(request, response, await followShort(context, request.params.token));
  });

  routes.get('/o/:token', async (request, response) => {
    const visitor = { agent: request.get('user-agent') ?? '', onlyLooks: request.method === 'HEAD' };
    await noteOpenPicture(context, request.params.token, visitor);
    response.set('cache-control', 'no-store').type('image/gif').send(nothing);
  });

  async function lead(_request: Request, response: Response, address: string | null): Promise<void> {
    // Where it leads does not hear which message, or who, led there.
    response.set('cache-control', 'no-store').set('referrer-policy', 'no-referrer');
    if (address !== null) return response.redirect(302, address);
    response
      .status(404)
      .send(
        writePage(
          'This link leads nowhere',
          await publicHouse(context),
          '<h1>This link leads nowhere</h1><p>It may be cut off: copy all of it. Or the message it came with is so old that it is kept no longer.</p>',
        ),
      );
  }
}
