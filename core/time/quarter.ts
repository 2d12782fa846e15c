/**
 * A quarter of an hour, ms. The boundaries of all local hours and days since 2000 lie on quarters in UTC, in every zone,
 * so a table over quarters is exact.
 */
export const QUARTER = 900_000
