import type { CueFiring, CueRow } from '@convite/contract';
import { laneOf, type Lane as CueLane } from '@convite/core';
import { hourMs, type RailScale } from './rail-scale';

const radius = 13;
const rowHeight = 34;
const top = 48;
/** So wide is a letter of a name, about. */
const letterWidth = 6.4;
const longestName = 24;

/** Hours from the start of its own date, or of the event, to a firing. */
export function hoursOf({ dueAt, occurrence }: CueFiring, startMs: number): number {
  return (Date.parse(dueAt) - (occurrence ? Date.parse(occurrence.startAt) : startMs)) / hourMs;
}

/** A cue where it is drawn. */
export interface PlacedCue {
  readonly row: CueRow;
  readonly hours: number;
  readonly x: number;
  readonly y: number;
  /** Its name, where there is room for it beside; empty where there is none. */
  readonly label: string;
}

export interface Lane {
  readonly channel: CueLane;
  readonly y: number;
  readonly height: number;
}

/** Puts cues on the lanes of their channels, as many rows deep as it takes for none to cover another. */
export function layCues(
  cues: readonly CueRow[],
  startMs: number,
  scale: RailScale,
): { readonly placed: PlacedCue[]; readonly lanes: Lane[]; readonly height: number } {
  const placed: PlacedCue[] = [];
  const lanes: Lane[] = [];
  let y = top;
  for (const channel of ['email', 'text', 'act'] as const) {
    // Where nothing is done, there is no lane for it.
    if (channel === 'act' && !cues.some(({ act }) => act)) continue;
    const mine = cues
      .filter((cue) => laneOf(cue) === channel)
      .map((row) => ({ row, hours: hoursOf(row.firing, startMs) }))
      .sort((a, b) => a.hours - b.hours)
      .map((cue) => ({ ...cue, x: scale.x(cue.hours) }));
    const rows: { row: CueRow; hours: number; x: number }[][] = [[]];
    for (const cue of mine) {
      const free = rows.find((row) => (row.at(-1)?.x ?? -Infinity) + 2 * radius + 4 <= cue.x);
      if (free) free.push(cue);
      else rows.push([cue]);
    }
    rows.forEach((row, depth) =>
      row.forEach((cue, index) => {
        // Neither the next nor the line of the start is written over.
        const nextX = row[index + 1]?.x ?? scale.x(scale.to) + 60;
        const startX = scale.x(0);
        const room = Math.min(nextX - radius, startX > cue.x ? startX : Infinity) - cue.x - radius - 8;
        placed.push({ ...cue, y: y + depth * rowHeight, label: labelOf(cue.row.name, room) });
      }),
    );
    lanes.push({ channel, y, height: rows.length * rowHeight });
    y += rows.length * rowHeight + 12;
  }
  return { placed, lanes, height: y + 16 };
}

function labelOf(name: string, room: number): string {
  const short = name.length > longestName ? `${name.slice(0, longestName - 1).trimEnd()}…` : name;
  return short.length * letterWidth <= room ? short : '';
}
