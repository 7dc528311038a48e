/** Of a person `s`. A row stays of who is erased, for the counts, and of who was found to be somebody else, for what was sent to them. */
export const isHere = 's.erased_at is null and s.same_as_id is null';
