import { inject, Injectable } from '@angular/core';
import { map, type Observable } from 'rxjs';
import * as z from 'zod';
import { signupForms, type SignupChange, type SignupForm } from '@convite/contract';
import { Client } from './client';

@Injectable({ providedIn: 'root' })
export class SignUpFormsApi {
  private readonly client = inject(Client);

  all = (): Observable<SignupForm[]> => this.client.get('/sign-up-forms', signupForms);
  /** @param id null for a new one. @returns its number */
  save = (id: number | null, fields: SignupChange): Observable<number> =>
    id === null
      ? this.client.post('/sign-up-forms', fields, z.object({ id: z.number() })).pipe(map((made) => made.id))
      : this.client.tell('PUT', `/sign-up-forms/${id}`, fields).pipe(map(() => id));
  /** Where its address is a picture that telephones read. */
  pictureUrl = (id: number): string => `/api/sign-up-forms/${id}/address.svg`;
}
