import { InjectionToken } from '@angular/core';
import { of, type Observable } from 'rxjs';

/**
 * Asks for what Settings lack before anything can be sent. Emits true once it is saved, and false where this person may not save it;
 * completes without a word where they cancel.
 */
export const fillInSettings = new InjectionToken<() => Observable<boolean>>('fillInSettings', {
  factory: () => () => of(false),
});
