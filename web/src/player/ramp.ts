/** Where a stretch begins or ends, and where an edit takes over, the sound changes over so many samples: no click. */
export const RAMP = 353;
