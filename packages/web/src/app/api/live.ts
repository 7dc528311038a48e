import { DestroyRef, inject, Injectable } from '@angular/core';
import { filter, Observable, share } from 'rxjs';
import { liveMessage } from '@convite/contract';

const againMs = 30_000;

/** What changed, as it changes, by server-sent events; one connection for all who listen. */
@Injectable({ providedIn: 'root' })
export class Live {
  private readonly messages = new Observable<readonly string[]>((subscriber) => {
    let wasCut = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let source = open();
    function open(): EventSource {
      const opened = new EventSource('/api/live');
      opened.onmessage = ({ data }) => {
        const message = liveMessage.safeParse(JSON.parse(String(data)));
        if (message.success) subscriber.next(message.data.topics);
      };
      opened.onerror = () => {
        wasCut = true;
        // A cut is mended by the browser; what was refused (too many tabs, signed out) is asked for again by us.
        if (opened.readyState === EventSource.CLOSED) timer = setTimeout(() => (source = open()), againMs);
      };
      opened.onopen = () => {
        // Whatever happened while we were cut off is unknown: everything may have changed.
        if (wasCut) subscriber.next(['*']);
        wasCut = false;
      };
      return opened;
    }
    return () => {
      clearTimeout(timer);
      source.close();
    };
  }).pipe(share());

  /** Emits when one of the topics changed. */
  changesOf(topics: () => readonly string[]): Observable<readonly string[]> {
    return this.messages.pipe(
      filter((changed) => changed.includes('*') || topics().some((topic) => changed.includes(topic))),
    );
  }
}

/** Calls `reload` whenever one of the topics changed, for as long as the caller lives, at most every third of a second. */
export function reloadOn(topics: () => readonly string[], reload: () => void): void {
  const live = inject(Live);
  let timer: ReturnType<typeof setTimeout> | undefined;
  const subscription = live.changesOf(topics).subscribe(() => {
    timer ??= setTimeout(() => {
      timer = undefined;
      reload();
    }, 300);
  });
  inject(DestroyRef).onDestroy(() => {
    clearTimeout(timer);
    subscription.unsubscribe();
  });
}
