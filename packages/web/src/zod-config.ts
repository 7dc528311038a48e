import * as z from 'zod';

// Zod tries `new Function` to be faster, which the content policy rightly reports; imported first, before any schema.
z.config({ jitless: true });
