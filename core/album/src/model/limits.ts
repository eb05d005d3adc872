/** Entries of an album's lists; of its songs 500 tracks and a hidden one. */
export const MOST_ACCEPTED = 1000;
export const MOST_PARTS = 100;
export const MOST_DELIVERABLES = 50;
export const MOST_TRACKS = 500;
export const MOST_EDITIONS = 50;
