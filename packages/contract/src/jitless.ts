import * as z from 'zod';

// Zod tries `new Function` to be faster, which the browser's content policy rightly reports. A schema decides when it is
// made, so every file of schemas imports this one first.
z.config({ jitless: true });
