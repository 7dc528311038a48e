import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import * as z from 'zod';
import { problemsOf, sayError } from '../refused';
import { Client } from './client';

describe('Client', () => {
  let http: HttpTestingController;
  let client: Client;
  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
    http = TestBed.inject(HttpTestingController);
    client = TestBed.inject(Client);
    client.csrfToken.set('token');
  });

  it('proves with its token that a change comes from this page, and sends it with no reading', () => {
    client.tell('POST', '/x').subscribe();
    expect(http.expectOne('/api/x').request.headers.get('x-csrf-token')).toBe('token');
    client.get('/y', z.unknown()).subscribe();
    expect(http.expectOne('/api/y').request.headers.has('x-csrf-token')).toBeFalse();
  });

  it('turns a refusal into its sentence and its located problems', () => {
    let error: unknown;
    client.tell('POST', '/x').subscribe({ error: (it: unknown) => (error = it) });
    const problems = [{ code: 'required', path: 'title' }];
    http
      .expectOne('/api/x')
      .flush(
        { type: 'urn', title: 'problems', status: 422, detail: 'Some of this cannot be used.', problems },
        { status: 422, statusText: 'x' },
      );
    expect([sayError(error), problemsOf(error)]).toEqual(['Some of this cannot be used.', problems]);
  });

  it('says so when the server cannot be reached, or answers what nobody expected', () => {
    let error: unknown;
    client.get('/x', z.unknown()).subscribe({ error: (it: unknown) => (error = it) });
    http.expectOne('/api/x').error(new ProgressEvent('error'));
    expect(sayError(error)).toContain('cannot be reached');
    client.get('/x', z.object({ id: z.number() })).subscribe({ error: (it: unknown) => (error = it) });
    http.expectOne('/api/x').flush({ id: 'seven' });
    expect(sayError(error)).toContain('Something went wrong');
  });
});
