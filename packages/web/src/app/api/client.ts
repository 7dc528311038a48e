import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import { catchError, map, type Observable, throwError } from 'rxjs';
import * as z from 'zod';
import { problemDetails } from '@convite/contract';
import { Refused } from '../refused';

const anything = z.unknown();

/** The one way to the server: every answer is parsed by the contract, every refusal becomes a Refused. */
@Injectable({ providedIn: 'root' })
export class Client {
  private readonly http = inject(HttpClient);
  /** Set when somebody signs in; proves to the server that a change comes from this page. */
  readonly csrfToken = signal('');

  get<T>(path: string, shape: z.ZodType<T>, query: Record<string, string | number> = {}): Observable<T> {
    return this.send('GET', path, undefined, shape, query);
  }
  /** @param body JSON, or a file that goes over as it is */
  post<T>(path: string, body: unknown, shape: z.ZodType<T>, query: Record<string, string> = {}): Observable<T> {
    return this.send('POST', path, body, shape, query);
  }
  /** For a change whose answer says nothing. @param key by which the server knows the same wish when it comes twice */
  tell(method: 'POST' | 'PUT' | 'DELETE', path: string, body: unknown = {}, key = ''): Observable<unknown> {
    return this.send(method, path, body, anything, {}, key);
  }
  put<T>(path: string, body: unknown, shape: z.ZodType<T>): Observable<T> {
    return this.send('PUT', path, body, shape);
  }

  private send<T>(
    method: string,
    path: string,
    body: unknown,
    shape: z.ZodType<T>,
    query: Record<string, string | number> = {},
    key = '',
  ): Observable<T> {
    const headers: Record<string, string> = {
      ...(method !== 'GET' && { 'x-csrf-token': this.csrfToken() }),
      ...(key && { 'idempotency-key': key }),
    };
    return this.http.request<unknown>(method, `/api${path}`, { body, params: query, headers }).pipe(
      map((answer) => shape.parse(answer)),
      catchError((error: unknown) => throwError(() => toRefused(error))),
    );
  }
}

function toRefused(error: unknown): unknown {
  if (!(error instanceof HttpErrorResponse)) return error;
  if (error.status === 0)
    return new Refused({
      type: 'about:blank',
      title: 'Offline',
      status: 0,
      detail: 'The server cannot be reached. What you typed is still here; try again in a moment.',
    });
  const details = problemDetails.safeParse(error.error);
  return new Refused(
    details.success ? details.data : { type: 'about:blank', title: error.statusText, status: error.status },
  );
}
