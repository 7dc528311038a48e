/**
 * What mail to an address is counted by, where mailboxes are protected from floods: all sub-addresses of a mailbox (RFC 5233) are
 * one, and apart from the plain address, so that nobody keeps its owner from their mail by using them up. Never says who somebody is.
 * @example mailboxKey('Ana+a@x.example') //=> 'ana+@x.example'
 */
export function mailboxKey(address: string): string {
  const [, local = '', domain = ''] = /^(.*)@([^@]*)$/.exec(address.toLowerCase()) ?? [];
  const plus = local.indexOf('+');
  return plus > 0 ? `${local.slice(0, plus)}+@${domain}` : address.toLowerCase();
}
