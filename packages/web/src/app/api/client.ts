import { HttpClient, HttpErrorResponse, HttpEventType, type HttpEvent } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import { catchError, distinctUntilChanged, filter, map, type Observable, throwError } from 'rxjs';
import * as z from 'zod';
import { problemDetails } from '@convite/contract/problem';
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
  /** What comes line by line, each as soon as it is there. Whoever unsubscribes ends the work at the server. */
  lines<T>(path: string, body: unknown, shape: z.ZodType<T>): Observable<T> {
    const headers = { 'x-csrf-token': this.csrfToken() };
    const options = { body, headers, observe: 'events', reportProgress: true, responseType: 'text' } as const;
    return this.http.request('POST', `/api${path}`, options).pipe(
      map((event) => lastLine(event)),
      filter((line) => line !== ''),
      distinctUntilChanged(),
      map((line) => shape.parse(JSON.parse(line))),
      catchError((error: unknown) => throwError(() => toRefused(error))),
    );
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

/** The last whole line that has come; empty for none yet. */
function lastLine(event: HttpEvent<string>): string {
  const text =
    event.type === HttpEventType.Response
      ? (event.body ?? '')
      : event.type === HttpEventType.DownloadProgress && 'partialText' in event
        ? String(event.partialText ?? '')
        : '';
  return (
    text
      .slice(0, text.lastIndexOf('\n') + 1)
      .trimEnd()
      .split('\n')
      .at(-1) ?? ''
  );
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
