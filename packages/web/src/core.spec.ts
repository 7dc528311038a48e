// Core's specs once more, in a browser: the same computing must hold on both sides.
import '@convite/core/calendar/person-message.spec';
import '@convite/core/calendar/published-samples.spec';
import '@convite/core/recurrence/recurrence.spec';
import '@convite/core/calendar/vtimezone.spec';
import '@convite/core/calendar/write-event.spec';
import '@convite/core/countdown/plan.spec';
import '@convite/core/calendar/read-events.spec';
import '@convite/core/event/change.spec';
import '@convite/core/event/series.spec';
import '@convite/core/links/test-link.spec';
import '@convite/core/links/uri-template.spec';
import '@convite/core/links/web-calendar.spec';
import '@convite/core/event/entry.spec';
import '@convite/core/event/registration.spec';
import '@convite/core/message/message.spec';
import '@convite/core/message/styled-text.spec';
import '@convite/core/time/time.spec';
