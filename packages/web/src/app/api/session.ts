import { inject, Injectable, signal } from '@angular/core';
import { map, type Observable, tap } from 'rxjs';
import { me, type Me } from '@convite/contract';
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
  signIn(email: string, password: string): Observable<Me> {
    return this.client.post('/session', { email, password }, me).pipe(tap((found) => this.take(found)));
  }
  signOut(): Observable<void> {
    return this.client.tell('DELETE', '/session').pipe(map(() => this.take(null)));
  }
  /** May this person change things? A viewer looks. */
  canMarket(): boolean {
    const role = this.me()?.role;
    return role === 'owner' || role === 'marketer';
  }
  isOwner(): boolean {
    return this.me()?.role === 'owner';
  }

  private take(found: Me | null): void {
    this.client.csrfToken.set(found?.csrfToken ?? '');
    this.me.set(found);
  }
}
