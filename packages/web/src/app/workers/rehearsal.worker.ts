/// <reference lib="webworker" />
import { rehearseAll } from '@convite/core';
import type { AskRehearsal } from './rehearsal';

addEventListener('message', ({ data }: MessageEvent<AskRehearsal>) => {
  postMessage(rehearseAll(data.cues, data.perWeek, data.whatIf));
});
