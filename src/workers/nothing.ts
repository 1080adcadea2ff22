/** Stands in the page for what is only asked for outside of one. */
export {};
