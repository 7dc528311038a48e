import { inject, Injectable, signal } from '@angular/core';
import { map, type Observable, tap } from 'rxjs';
import { linkState, me, signInAnswer, type LinkState, type Me, type SignInAnswer } from '@convite/contract/session';
import { Client } from './client';

/** Who is signed in. */
@Injectable({ providedIn: 'root' })
export class Session {
  private readonly client = inject(Client);
  /** Undefined until asked, null when nobody is. */
  readonly me = signal<Me | null | undefined>(undefined);

  load(): Observable<Me | null> {
    return this.client.get('/session', me.nullable()).pipe(tap((found) => this.take(found)));
  }
  signIn(email: string, password: string): Observable<SignInAnswer> {
    return this.client.post('/session', { email, password }, signInAnswer).pipe(tap((answer) => this.enter(answer)));
  }
  /** The second factor, after the password. */
  typeCode(code: string): Observable<SignInAnswer> {
    return this.client.post('/session/code', { code }, signInAnswer).pipe(tap((answer) => this.enter(answer)));
  }
  askForReset(email: string): Observable<unknown> {
    return this.client.tell('POST', '/session/forgotten', { email });
  }
  /** Whom a mailed link is for. */
  readLink(token: string): Observable<LinkState> {
    return this.client.post('/session/link', { token }, linkState);
  }
  setPassword(token: string, password: string): Observable<unknown> {
    return this.client.tell('POST', '/session/password', { token, password });
  }
  signOut(): Observable<void> {
    return this.client.tell('DELETE', '/session').pipe(map(() => this.take(null)));
  }
  /** The house's zone. */
  zone(): string {
    return this.me()?.organisation.zone ?? 'UTC';
  }
  /** What it says of something that somebody sends: on its way, or waiting for a second member. */
  saySent(words: string): string {
    return this.me()?.organisation.asksRelease ? 'It waits for a second member to read and release it.' : words;
  }
  /** May this person change things? A viewer looks. */
  canMarket(): boolean {
    const role = this.me()?.role;
    return role === 'owner' || role === 'marketer';
  }
  isOwner(): boolean {
    return this.me()?.role === 'owner';
  }

  private enter(answer: SignInAnswer): void {
    if (answer.step === 'in') this.take(answer.me);
    else this.client.csrfToken.set(answer.csrfToken);
  }
  private take(found: Me | null): void {
    this.client.csrfToken.set(found?.csrfToken ?? '');
    this.me.set(found);
  }
}
