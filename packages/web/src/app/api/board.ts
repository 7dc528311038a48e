import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import {
  board,
  byHand,
  letterRows,
  strip,
  linksPressed,
  type Board,
  type BoardQuery,
  type ByHand,
  type LetterRow,
  type Strip,
  type LinksPressed,
} from '@convite/contract';
import type { Channel } from '@convite/core';
import * as z from 'zod';
import { Client } from './client';

/** The call board, the strip, and what can be done with a firing. */
@Injectable({ providedIn: 'root' })
export class BoardApi {
  private readonly client = inject(Client);

  /** Mails whoever asks from the house's sender. */
  askForProof = (): Observable<{ sentTo: string }> =>
    this.client.post('/beginning/proof', {}, z.object({ sentTo: z.string() }));
  loadInvented = (): Observable<unknown> => this.client.tell('POST', '/beginning/invented');
  removeInvented = (): Observable<unknown> => this.client.tell('DELETE', '/beginning/invented');
  board = (query: Partial<BoardQuery> = {}): Observable<Board> => this.client.get('/board', board, query);
  strip = (): Observable<Strip> => this.client.get('/strip', strip);
  stop = (firingId: number): Observable<unknown> => this.client.tell('POST', `/firings/${firingId}/stop`);
  setAgain = (firingId: number): Observable<unknown> => this.client.tell('POST', `/firings/${firingId}/set-again`);
  byHand = (firingId: number): Observable<ByHand> => this.client.get(`/firings/${firingId}/by-hand`, byHand);
  sendNow = (firingId: number, confirmedCount: number, key: string): Observable<unknown> =>
    this.client.tell('POST', `/firings/${firingId}/send-now`, { confirmedCount }, key);
  linksOf = (firingId: number): Observable<LinksPressed> => this.client.get(`/firings/${firingId}/links`, linksPressed);
  holdEverything = (): Observable<unknown> => this.client.tell('POST', '/pauses');
  resume = (channel: Channel): Observable<unknown> => this.client.tell('POST', `/pauses/${channel}/resume`);
  letters = (): Observable<LetterRow[]> => this.client.get('/letters', letterRows);
  /** @param key the same for the same wish */
  answerLetter = (id: number, text: string, key: string): Observable<unknown> =>
    this.client.tell('POST', `/letters/${id}/answer`, { text }, key);
  finishTask = (id: number): Observable<unknown> => this.client.tell('POST', `/tasks/${id}/done`);
  settleLetter = (id: number, isOpen: boolean): Observable<unknown> =>
    this.client.tell('POST', `/letters/${id}`, { isOpen });
}
