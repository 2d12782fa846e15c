/** Numbers by what sort of thing they seem to be, from their names. */
export const SORTS = {
  money: /(?:^|[_ ])(?:revenue|price|fare|amount|total|value|cost|paid|sum|fee)/i,
  duration: /(?:^|[_ ])(?:minutes|seconds|hours|duration|length|time|days)/i,
}

/** What words of an event tell that somebody has got there. */
export const GOT_THERE = /complet|bought|paid|placed|finish|purchas|subscri|order/i
