import { Router } from 'express';

const escape = (text: string): string => text.replace(/[&<>"']/g, (mark) => `&#${mark.charCodeAt(0)};`);

/** Basic UTC, basic local, or a day, in words of this calendar; anything else is shown as not understood. */
function understand(value: string, zone: string): string {
  const [, year, month, day, hour, minute, utc] =
    /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})\d{2}(Z?))?$/.exec(value) ?? [];
  if (!year) return value ? `not understood: ${value}` : '';
  if (!hour) return `${year}-${month}-${day}`;
  if (!utc) return `${year}-${month}-${day} ${hour}:${minute}`;
  const at = new Date(`${year}-${month}-${day}T${hour}:${minute}:00Z`);
  try {
    return (
      new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeStyle: 'short', timeZone: zone || 'UTC' }).format(at) +
      ` ${zone || 'UTC'}`
    );
  } catch {
    return `${at.toISOString().slice(0, 16)} UTC`;
  }
}

/** The stand-in web calendar: shows what an add-to-calendar link says, as a calendar understands it. */
export function webCalendar(): Router {
  const routes = Router();
  routes.get('/add', (request, response) => {
    // WHATWG form decoding, as browsers and servers do it: `+` and `%20` are both a space.
    const query = new URL(request.originalUrl, 'http://calendar.example').searchParams;
    const zone = query.get('zone') ?? '';
    const rows: [string, string, string][] = [
      ['title', 'Title', query.get('title') ?? ''],
      ['place', 'Place', query.get('place') ?? ''],
      ['start', 'Start', understand(query.get('start') ?? '', zone)],
      ['end', 'End', understand(query.get('end') ?? '', zone)],
      ['description', 'Description', query.get('description') ?? ''],
    ];
    response.send(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Web calendar (simulated)</title>
<body><h1>New entry</h1><p>This stand-in web calendar understood:</p>
<dl>${rows.map(([id, name, value]) => `<dt>${name}</dt><dd><pre id="${id}">${escape(value)}</pre></dd>`).join('')}</dl></body></html>`);
  });
  // A map beside it, which knows every place by its words.
  routes.get('/map', ({ originalUrl }, response) => {
    const place = new URL(originalUrl, 'http://calendar.example').searchParams.get('place') ?? '';
    response.send(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Map (simulated)</title>
<body><h1>Map</h1><p>This stand-in map found:</p><pre id="place">${escape(place)}</pre></body></html>`);
  });
  return routes;
}
