/**
 * The name of the newest migration: a server is of use only with tables that have it. In a file of its own for those
 * who load nothing else.
 */
export const SCHEMA = '004-arrival-of-blobs';
