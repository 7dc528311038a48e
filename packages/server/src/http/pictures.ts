import { Router } from 'express';
import { mostPictureOctets, pictureChange, pictureDigest, pictureName, pictureQuery } from '@convite/contract';
import type { Context } from '../services/context';
import { addPicture, changePicture, listPictures, usesOfPicture } from '../services/wording/pictures';
import { takeFile } from './file-body';
import { actorOf } from './session';

/** Pictures that messages show. A file comes as it is, named in the address. */
export function pictureRoutes(context: Context): Router {
  const routes = Router();
  routes.get('/', async (request, response) => {
    const { archived, before = null } = pictureQuery.parse(request.query);
    response.json(await listPictures(context, archived, before));
  });
  routes.post('/', async (request, response) => {
    const { name } = pictureName.parse(request.query);
    const file = await takeFile(request, mostPictureOctets);
    response.status(201).json(await addPicture(context, file, name, actorOf(request)));
  });
  routes.put('/:digest', async (request, response) => {
    await changePicture(context, pictureDigest.parse(request.params.digest), pictureChange.parse(request.body));
    response.status(204).end();
  });
  routes.get('/:digest/uses', async (request, response) => {
    response.json(await usesOfPicture(context, pictureDigest.parse(request.params.digest)));
  });
  return routes;
}
