const mostRemembered = 10_000;

/** Lets so many through a minute, each peer by itself. By real time: it guards this process, not the calendar. */
export function openTurnstile(mostAMinute: number): { lets(peer: string): boolean } {
  let counts = new Map<string, number>();
  let minute = 0;
  return {
    lets(peer) {
      const now = Math.floor(performance.now() / 60_000);
      if (now !== minute || counts.size > mostRemembered) {
        counts = new Map();
        minute = now;
      }
      const count = (counts.get(peer) ?? 0) + 1;
      counts.set(peer, count);
      return count <= mostAMinute;
    },
  };
}
