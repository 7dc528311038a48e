import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  pressureLook,
  pressurePage,
  type PressureChange,
  type PressureLook,
  type PressurePage,
  type QuietChange,
} from '@convite/contract';
import { Client } from './client';

/** How often one person is written to. */
@Injectable({ providedIn: 'root' })
export class PressureApi {
  private readonly client = inject(Client);

  read = (): Observable<PressurePage> => this.client.get('/pressure', pressurePage);
  save = (change: PressureChange): Observable<unknown> => this.client.tell('PUT', '/pressure', change);
  saveQuiet = (change: QuietChange): Observable<unknown> => this.client.tell('PUT', '/pressure/quiet', change);
  /** Looks through what everybody was sent, and says how far it is. */
  look = (): Observable<PressureLook> => this.client.lines('/pressure/look', {}, pressureLook);
}
