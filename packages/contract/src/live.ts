import './jitless';
import * as z from 'zod';

/** What a server-sent event carries: which things changed, so that whoever shows them asks again. */
export const liveMessage = z.object({ topics: z.array(z.string()) });
