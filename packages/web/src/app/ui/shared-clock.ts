import { Injectable, signal } from '@angular/core';

/** The organisation's clock on this screen: what the server said, ticking on every second. */
@Injectable({ providedIn: 'root' })
export class SharedClock {
  private aheadMs = 0;
  readonly nowMs = signal(Date.now());

  constructor() {
    setInterval(() => this.nowMs.set(Date.now() + this.aheadMs), 1000);
  }

  setTo(nowIso: string): void {
    this.aheadMs = Date.parse(nowIso) - Date.now();
    this.nowMs.set(Date.now() + this.aheadMs);
  }
}
