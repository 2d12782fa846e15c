/**
 * A quarter of an hour, ms. The boundaries of local hours and days lie on quarters in UTC, so a table over quarters is
 * exact: in every zone since 1979, and before in all but three (Liberia's until 1972, those of Niue and Kiritimati).
 */
export const QUARTER = 900_000
