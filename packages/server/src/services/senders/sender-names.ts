import { isIP } from 'node:net';
import type { SenderName } from '@convite/contract';
import type { Context } from '../context';
import { notFound } from '../failure';

/** Asks the DNS for the texts at a name. @returns none where there are none @throws Error where nothing answers */
export type AskNames = (name: string) => Promise<readonly string[]>;

/** What our own mail is signed with, and from where it leaves. */
export interface MailNames {
  readonly mailServer: string;
  /** Empty where nothing is signed. */
  readonly dkimDomain: string;
  readonly dkimSelector: string;
}

/**
 * What the domain of a sender says to other mail servers: who may send for it (RFC 7208), whose signature counts (RFC 6376), and
 * what to do with what is neither (RFC 7489); with what to add. @throws Failure 404
 */
export async function checkSenderNames(
  { store }: Pick<Context, 'store'>,
  id: number,
  ask: AskNames,
  { mailServer, dkimDomain, dkimSelector }: MailNames,
): Promise<SenderName[]> {
  const sender = await store.senders.find(id);
  if (!sender) throw notFound('sender');
  const domain = sender.email.split('@')[1] ?? '';
  const look = async (
    what: SenderName['what'],
    at: string,
    start: RegExp,
    advice: string,
    isGood: (found: string) => boolean = () => true,
  ): Promise<SenderName> => {
    try {
      const found = (await ask(at)).find((one) => start.test(one)) ?? '';
      const fits = found !== '' && isGood(found);
      return { what, at, found: found.slice(0, 500), isGood: fits, advice: fits ? '' : advice };
    } catch {
      return {
        what,
        at,
        found: '',
        isGood: false,
        advice: 'No name server answers here, so this cannot be looked up.',
      };
    }
  };
  const isSigned = dkimDomain !== '' && (domain === dkimDomain || domain.endsWith(`.${dkimDomain}`));
  return [
    await look(
      'SPF',
      domain,
      /^v=spf1\b/i,
      `Add a TXT record at ${domain}: v=spf1 ${isIP(mailServer) ? 'ip4' : 'a'}:${mailServer} -all`,
      (found) =>
        found.toLowerCase().includes(mailServer.toLowerCase()) || /\binclude:|\bip[46]:|\bmx\b|\ba\b/i.test(found),
    ),
    isSigned
      ? await look(
          'DKIM',
          `${dkimSelector}._domainkey.${dkimDomain}`,
          /p=/,
          'Publish the public part of the key that we sign with there.',
        )
      : {
          what: 'DKIM' as const,
          at: domain,
          found: '',
          isGood: false,
          advice: dkimDomain
            ? `Mail is signed for ${dkimDomain}, which is not the domain of this sender: use an address there.`
            : 'Mail is not signed: give a DKIM key in the configuration.',
        },
    await look('DMARC', `_dmarc.${domain}`, /^v=DMARC1\b/i, `Add a TXT record at _dmarc.${domain}: v=DMARC1; p=none`),
  ];
}
