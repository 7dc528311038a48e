import { getEvent } from '../services/events/get-event';
import { form, pathOf, type Answer, type HttpStage } from './http-stage';

/** What people do on the page of an event, and on their own reply page. */
export function eventPage(http: HttpStage) {
  const { stage } = http;
  const { links, store } = stage.context;
  const post = (path: string, fields: Record<string, string>): Promise<Answer> =>
    http.visitor().call('POST', path, new URLSearchParams(fields).toString(), form);
  const pathTo = async (event: number): Promise<string> => `/e/${(await getEvent(stage.context, event)).publicKey}`;
  const idOf = async (email: string): Promise<number> => (await store.subscribers.idByEmail(email)) ?? 0;
  const replyPath = async (event: number, email: string): Promise<string> =>
    pathOf(links.reply(event, await idOf(email)));
  const offered = async (path: string): Promise<{ page: string; ids: string[] }> => {
    const page = (await http.visitor().call('GET', path)).body;
    return { page, ids: [...page.matchAll(/name="take" value="(\d+)"/g)].map(([, id = '']) => id) };
  };
  return {
    /** What the page that a mail leads to offers to confirm, by number. */
    offered,
    /** Confirms some of it, or all. */
    confirm: async (path: string, more: Record<string, string> = {}, take?: string[]): Promise<Answer> => {
      const ids = take ?? (await offered(path)).ids;
      const fields = new URLSearchParams([...ids.map((id): [string, string] => ['take', id]), ...Object.entries(more)]);
      return http.visitor().call('POST', path, fields.toString(), form);
    },
    pathTo,
    idOf,
    replyPath,
    /** Somebody who took their time over the form. */
    register: async (event: number, fields: Record<string, string>): Promise<Answer> =>
      post(`${await pathTo(event)}/register`, { stamp: links.formStamp(stage.clock.now() - 5000), ...fields }),
    answer: async (event: number, email: string, state: string, occurrence = ''): Promise<Answer> =>
      post(await replyPath(event, email), { state, occurrence }),
    replyPage: async (event: number, email: string): Promise<string> =>
      (await http.visitor().call('GET', await replyPath(event, email))).body,
  };
}
