import './jitless';
import * as z from 'zod';
import { canonicalZone } from '@convite/core';

/** A time zone's name as the IANA tz database writes it; an old name becomes the new one, and what is none stays to be named. */
export const zoneName = z
  .string()
  .max(64)
  .transform((name) => canonicalZone(name.trim()) ?? name);
