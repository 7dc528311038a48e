import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { of, throwError, type Observable } from 'rxjs';
import { Refused } from '../refused';
import { Confirm, type Sending } from './confirm';
import { fillInSettings } from './fill-in';

/** Answers the questions in turn, and remembers what was asked. */
function stage(answers: boolean[], fillIn?: () => Observable<boolean>) {
  const titles: string[] = [];
  const open = (_: unknown, { data }: { data: { title: string } }) => {
    titles.push(data.title);
    return { afterClosed: () => of(answers.shift()) };
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: MatDialog, useValue: { open } },
      ...(fillIn ? [{ provide: fillInSettings, useValue: fillIn }] : []),
    ],
  });
  return { confirm: TestBed.inject(Confirm), titles };
}

/** A server that asks for these counts before it sends. */
function server(...counts: number[]) {
  const confirmed: (number | null)[] = [];
  const send = ({ count }: Pick<Sending, 'count'>): Observable<unknown> => {
    confirmed.push(count);
    const wanted = counts[0];
    if (wanted === undefined || count === wanted) return of('sent');
    if (count !== null) counts.shift();
    return throwError(() => new Refused({ type: '', title: 'confirm-count', status: 409, count: counts[0] ?? wanted }));
  };
  return { send, confirmed };
}

describe('asking before a hundred people get something', () => {
  it('does not ask when the server does not', () => {
    const { confirm, titles } = stage([]);
    const { send, confirmed } = server();
    const seen: unknown[] = [];
    confirm.sendAsking(send, '').subscribe((value) => seen.push(value));
    expect([seen, titles, confirmed]).toEqual([['sent'], [], [null]]);
  });

  it('asks with the number, and sends that number back', () => {
    const { confirm, titles } = stage([true]);
    const { send, confirmed } = server(412);
    confirm.sendAsking(send, '').subscribe();
    expect([titles, confirmed]).toEqual([['Send to 412 people?'], [null, 412]]);
  });

  it('asks once more when the number changed meanwhile', () => {
    const { confirm, titles } = stage([true, true]);
    const { send } = server(412, 413);
    const first = (one: Sending): Observable<unknown> => (one.count === 412 ? send({ count: -1 }) : send(one));
    confirm.sendAsking(first, '').subscribe();
    expect(titles).toEqual(['Send to 412 people?', 'Send to 413 people?']);
  });

  it('asks in the server’s words about what is odd, and carries one key through all attempts', () => {
    const { confirm, titles } = stage([true, true]);
    const seen: Sending[] = [];
    const odd = (one: Sending): Observable<unknown> => {
      seen.push(one);
      const title = one.isSure ? (one.count === 412 ? '' : 'confirm-count') : 'confirm-doubts';
      return title ? throwError(() => new Refused({ type: '', title, status: 409, count: 412 })) : of('sent');
    };
    confirm.sendAsking(odd, '').subscribe();
    expect(titles).toEqual(['Is that meant?', 'Send to 412 people?']);
    expect(seen.map(({ isSure, count }) => [isSure, count])).toEqual([
      [false, null],
      [true, null],
      [true, 412],
    ]);
    expect(new Set(seen.map(({ key }) => key)).size).toBe(1);
  });

  it('asks for what Settings lack, and then goes on with the same wish; who may not fill it in is told why', () => {
    const seen: Sending[] = [];
    let isFilled = false;
    const lacking = (one: Sending): Observable<unknown> => {
      seen.push(one);
      const refused = new Refused({ type: '', title: 'cannot-send-yet', status: 409, detail: 'No postal address.' });
      return isFilled ? of('sent') : throwError(() => refused);
    };
    const { confirm } = stage([], () => {
      isFilled = true;
      return of(true);
    });
    const sent: unknown[] = [];
    confirm.sendAsking(lacking, '', 5).subscribe((value) => sent.push(value));
    expect([sent, seen.length, new Set(seen.map(({ key }) => key)).size]).toEqual([['sent'], 2, 1]);
    TestBed.resetTestingModule();
    isFilled = false;
    let refused: unknown;
    stage([])
      .confirm.sendAsking(lacking, '')
      .subscribe({ error: (error: unknown) => (refused = error) });
    expect(refused instanceof Refused && refused.message).toBe('No postal address.');
  });

  it('sends nothing on “Not yet”, and passes other refusals on', () => {
    const { confirm } = stage([false]);
    const { send, confirmed } = server(412);
    confirm.sendAsking(send, '').subscribe({ next: () => fail('sent') });
    expect(confirmed).toEqual([null]);
    let refused: unknown;
    confirm
      .sendAsking(() => throwError(() => new Error('other')), '')
      .subscribe({ error: (error: unknown) => (refused = error) });
    expect(refused).toEqual(new Error('other'));
  });
});
