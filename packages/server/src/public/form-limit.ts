import { Router, type RequestHandler } from 'express';
import rateLimit from 'express-rate-limit';
import { slowDown } from 'express-slow-down';

const windowMs = 10 * 60_000;
/** A school or a mobile network shares one address: after so many forms in ten minutes each is answered a little later. */
const delayAfter = 60;
const delayStepMs = 100;
const longestDelayMs = 5000;
/** No crowd is as fast as this while each of its forms waits. */
const refuseAfter = 1200;

/**
 * How many forms one caller may send: more of them are slowed down, and refused only far beyond what people do. What each makes us
 * write, and to whom, is counted for each address in the database (`store.asked`).
 */
export const formLimit = (): RequestHandler =>
  Router().use(
    rateLimit({ windowMs, limit: refuseAfter, standardHeaders: 'draft-8', legacyHeaders: false }),
    slowDown({ windowMs, delayAfter, delayMs: (used) => Math.min((used - delayAfter) * delayStepMs, longestDelayMs) }),
  );
