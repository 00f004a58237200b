/**
 * SQL for the next revision of a draft: greater than the last, and the time in milliseconds where that is greater still.
 * A database restored from a backup would otherwise count to the same numbers again, and browsers that know a number
 * under other contents would show those, and save over what is there now.
 */
export const NEXT_REVISION = 'greatest(revision + 1, (extract(epoch FROM clock_timestamp()) * 1000)::bigint)';
